"""Control cables: data, tension over temperature, turnbuckles, measuring, loops, routes, ends."""
