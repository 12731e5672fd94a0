"""Looking a bow over: findings and photographs."""
