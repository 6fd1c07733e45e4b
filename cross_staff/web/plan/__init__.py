"""The days of the shop: a week of it, the way of one rig, calendars in and out."""
