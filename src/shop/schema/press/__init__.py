"""Press cycles, the ledger, checks of new parts."""
