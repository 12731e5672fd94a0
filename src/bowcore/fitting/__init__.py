"""What is fitted to a bow that is in its bands: nock, ties, loop, peep, rest, sight. No state of a job."""
