"""What the loads do: one compiled step, rehearsed and explored."""
