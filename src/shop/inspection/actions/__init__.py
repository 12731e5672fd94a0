"""Recording findings and photographs."""
