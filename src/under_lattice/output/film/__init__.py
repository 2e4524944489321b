"""Pictures that move: the loop of a work, moment after moment, as a film, an animation, single pictures or a drawing that moves."""

from under_lattice.output.film.animations import Apng, Gif, MovingWebp
from under_lattice.output.film.film import Film
from under_lattice.output.film.moving_svg import MovingSvg
from under_lattice.output.film.singly import Moments, Sequence
from under_lattice.output.film.video import Mp4, Webm

__all__ = ["Apng", "Film", "Gif", "Moments", "MovingSvg", "MovingWebp", "Mp4", "Sequence", "Webm"]
