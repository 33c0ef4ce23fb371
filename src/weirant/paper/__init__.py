"""Paper and ink: renders drawings with QPainter, lays out the printed sheets."""
