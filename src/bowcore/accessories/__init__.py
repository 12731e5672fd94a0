"""What sits on string and riser: nock, ties, loop, peep, rest, sight, stabiliser, the arrow."""
