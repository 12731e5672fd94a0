"""The press cycle and what is done in it: parts, adjustments, the gate, the ledger."""
