"""An invented shop, made through the same acts as the screens."""
