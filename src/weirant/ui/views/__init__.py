"""The drawings on screen: one canvas that shows a drawing and lets it be taken hold of, and the three places."""
