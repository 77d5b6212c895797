"""Results read in as a table: rows to units, histories and a plan the finish can judge."""
