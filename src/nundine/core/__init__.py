"""Pure computation: no input or output, no framework, no clock."""
