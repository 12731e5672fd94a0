"""What the database holds: tables, their triggers, who sees which rows, and rows as the core takes them."""
