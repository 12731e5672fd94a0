"""Finding customers, models and bows by a few letters, typing errors included."""
