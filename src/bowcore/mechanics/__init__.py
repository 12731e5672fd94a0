"""The bow as a machine: twisted bundles, what a bow is made of, how it answers a change."""
