"""Work in the background, and how it stands aside for who waits for an answer."""
