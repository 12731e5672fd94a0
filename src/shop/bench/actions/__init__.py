"""The acts of a job, one file a verb: each checks who, when and whether, then writes facts."""
