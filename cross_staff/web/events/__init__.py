"""What happened to a rig: said on one page for all stations, asked about before a save, taken back, taken up again."""
