"""Tables, migrations, and the queries that turn rows into core objects and back."""
