"""The engine's physics: gas, cylinders, valves, starter. Plain compiled functions on numbers and arrays, SI units."""
