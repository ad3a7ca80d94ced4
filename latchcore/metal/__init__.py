"""What is joined by metal: netlist, terminals, islands."""
