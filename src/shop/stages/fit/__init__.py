"""The fit: what is on a bow, and making it ready to shoot."""
