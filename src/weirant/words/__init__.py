"""The one room where findings and fixes get their words, in the reader's units: what is found below is codes, numbers and identities."""
