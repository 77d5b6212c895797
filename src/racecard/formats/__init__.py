"""Bytes to core types and back: CSV and XLSX. No database, no HTTP."""
