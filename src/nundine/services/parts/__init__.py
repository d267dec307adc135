"""Parts: what lies where, what moved, and which assets use them."""
