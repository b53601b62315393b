"""The shed: what is there, what the season asks of it, what to buy."""
