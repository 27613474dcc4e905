"""An engine by itself: its wheel, drive and torque, and its profile as it is drawn, left open and changed.

Each module is imported by its own name: measuring needs the wheel, and never the drawing.
"""
