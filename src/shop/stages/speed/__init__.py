"""The chronograph: strings of speeds, other arrows, string weights."""
