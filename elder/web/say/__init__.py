"""The words and drawings every room shares: titles, numbers, units, odds, dates, how wants and batches stand."""
