"""The shop: its people, its passphrase and who was let in, who wrote what."""
