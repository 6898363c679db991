"""Scales, planes and curves that several topics draw with."""
