"""Tools on the bench behind one small interface; simulated stand-ins measure a hidden bow."""
