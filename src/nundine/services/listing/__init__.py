"""Lists: a noun declares its columns once, and can be filtered, sorted, grouped, summed, looked at in
pages, kept as views and exported by them."""
