"""Accounts of energy and of momentum, with all that their uncertainties rest on.

amounts    values that know what they rest on, one or at many marks
approach   where a body is and how fast it goes at a moment, from one side of it
momentum   momenta before and after an impact, and whether their total stayed
collision  restitution, kinetic energy kept, kind of collision
energy     kinetic, potential, elastic and rotational energy at each mark
balance    what an energy is at the ends of a stretch, and what is missing
"""
