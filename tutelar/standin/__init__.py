"""The pretend site: servers on loopback that behave as the modelled devices do, with faults."""
