"""Sheets: pieces and photos laid on papers and faces."""
