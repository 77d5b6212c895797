"""The only place where prose is written: verdicts, methods, glossary, reports."""
