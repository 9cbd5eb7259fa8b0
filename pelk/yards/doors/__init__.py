"""What stands at the doors: passwords, sessions, how often somebody may knock."""
