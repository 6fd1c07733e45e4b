"""Reading what people type: fields, numbers, units, tables, photos, two windows joined."""
