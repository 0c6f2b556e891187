"""Circuits spread over legs: a best assignment, and how far from a bound it is.

Least largest leg, then least neutral, then fewest moves. A board with few ways to stand is tried way by way
(`every_way`); on a larger one a search by changes of one or two circuits at a time (`descent`) goes down to a bound
under which no assignment comes (`bound`), and where moves are limited an integer programme raises it (`programme`).
All of it ends by counts of work, never by a clock, so that a question has one answer on any machine.

    board        what a circuit is, where it may go, what an answer holds
    assignment   a board as columns: how many circuits of a kind go which way
"""

from voltaje.design.balancing.board import Balanced, Circuit, Legs, Move, places_of
from voltaje.design.balancing.evening import even_out

__all__ = ["Balanced", "Circuit", "Legs", "Move", "even_out", "places_of"]
