"""Starts, stops and tests Fennock on a bare machine; standard library only."""
