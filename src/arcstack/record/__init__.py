"""What is kept of a head and answered for: who it is, who worked on it, orders, power, costs, release."""
