"""Measuring instruments over a wire: the protocol, connections to those of the shop, and stand-ins that ship."""
