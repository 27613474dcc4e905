"""The logbook: how jobs are found, closed, copied, carried, and what closed ones teach."""
