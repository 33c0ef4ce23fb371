"""The best grade line of a network: what is demanded of it, the linear programme, and what to give way on if none exists."""
