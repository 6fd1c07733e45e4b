"""The shop's measuring instruments: their page, their readings as they come, and what is taken from them."""
