"""Listening: the small network that finds acts and figures in loose talk, and its weights, which ship with it.

The network is run by onnxruntime. Without its files, or with damaged ones, the reader goes on with its rules alone.
"""

from oddbolt.listening.network import ListeningError, listening_vocabulary, load, shipped_tagger

__all__ = ["ListeningError", "listening_vocabulary", "load", "shipped_tagger"]
