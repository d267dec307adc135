"""The demo world: Tarnfell Cableways, a made-up mountain ropeway company."""
