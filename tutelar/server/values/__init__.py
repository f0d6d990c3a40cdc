"""What is typed into devices: values, ticks, clocks, ports."""
