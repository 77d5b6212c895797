"""Tables in and out: rows to units, histories and a plan the finish can judge."""
