"""The fit of arrow, nock, peep, loop and rest; the sight."""
