"""Adze: design, prove, build and keep an electric fence."""

from importlib.metadata import PackageNotFoundError, version

try:
    __version__ = version("adze")
except PackageNotFoundError:  # run from a folder that was never installed
    __version__ = "0"
