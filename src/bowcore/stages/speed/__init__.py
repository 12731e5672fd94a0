"""The chronograph: strings of speeds, string weights."""
