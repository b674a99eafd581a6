"""Outlines as geometry: their steps and nodes, plain shapes, curves fitted to points, outlines united and moved
outward.

Nothing here knows jobs or painters. Lengths are in the units that the points are given in; y grows downward.
"""
