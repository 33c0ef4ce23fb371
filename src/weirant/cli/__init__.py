"""The command line. Qt is imported only where something is drawn."""
