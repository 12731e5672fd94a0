"""The bow: its specification, the twin, plausible bows, lean, modules, outline."""
