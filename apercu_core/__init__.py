"""The science of Apercu: plain values in, plain values out. No framework, no files, no clock."""

__version__ = "0.2.0"
