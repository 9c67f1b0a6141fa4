"""What leaves the program: schedules, the printed sheet, tables and moving pictures."""
