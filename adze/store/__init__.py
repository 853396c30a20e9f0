"""PostgreSQL: all SQL lies in migrations/ and queries/; errors come out as our own."""
