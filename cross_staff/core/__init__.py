"""The craft's rules and numbers: no input or output, no clock, no interface. SI units inside."""
