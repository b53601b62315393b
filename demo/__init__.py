"""The demo garden: invented people, places and batches as readable data, and what loads them."""
