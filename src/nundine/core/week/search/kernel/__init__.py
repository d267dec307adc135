"""The compiled search: `moves.run` is its one entry; `words`, `board`, `seats`, `fit` and `trial` are what
it stands on."""
