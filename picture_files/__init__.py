"""Photographs as files: read with care, upright, without their camera's notes. Command and server share this room."""
