"""Compiled kernels of finishes: light and coded values, a Gaussian, and means along rays, arcs and flows."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from under_lattice.core.kernel_compiler import njit

BESIDE = 1.0
ALONG_MOST, APART = 200, 1.5  # places a mean is taken of, and px between two as long as there are no more


@njit(nogil=True, cache=True, fastmath=True)
def through_table(pixels: Any, table: Any, out: Any) -> None:
    """Write premultiplied pixels (H, W, 4) with each straight colour looked up in a table (T,) over 0..1, between two on a line."""
    last = np.float32(len(table) - 1)
    one, least = np.float32(1.0), np.float32(1e-6)
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            a = min(pixels[y, x, 3], one)
            if a < least:
                for c in range(4):
                    out[y, x, c] = np.float32(0.0)
                continue
            for c in range(3):
                at = min(max(pixels[y, x, c] / a, np.float32(0.0)), one) * last
                low = min(int(at), len(table) - 2)
                out[y, x, c] = (table[low] + (table[low + 1] - table[low]) * (at - np.float32(low))) * a
            out[y, x, 3] = a


@njit(nogil=True, cache=True, fastmath=True)
def lay_colour(pixels: Any, colour: Any, share: Any, beneath: bool, first: int, last: int, out: Any) -> None:
    """Write rows of premultiplied pixels (H, W, 4) with a colour (4,) beneath them, or on them as far as they are there.

    `share` (H, W) says how much of it.
    """
    one = np.float32(1.0)
    for y in range(first, last):
        for x in range(pixels.shape[1]):
            a = pixels[y, x, 3]
            k = share[y, x] * (one - a) if beneath else share[y, x]
            for c in range(4):
                p = pixels[y, x, c]
                out[y, x, c] = p + k * colour[c] if beneath else p + (colour[c] * a - p) * k


@njit(nogil=True, cache=True, fastmath=True)
def light_rows(heights: Any, tx: float, ty: float, tz: float, first: int, last: int, out: Any) -> None:
    """Write rows of the light max(0, n.l) on a surface by its heights (H, W), for a light in a direction of length 1."""
    high, wide = heights.shape
    for y in range(first, last):
        up, below = max(y - 1, 0), min(y + 1, high - 1)
        for x in range(wide):
            left, right = max(x - 1, 0), min(x + 1, wide - 1)
            across = (heights[y, right] - heights[y, left]) / max(right - left, 1)
            down = (heights[below, x] - heights[up, x]) / max(below - up, 1)
            lit = (tz - across * tx - down * ty) / math.sqrt(across * across + down * down + 1.0)
            out[y, x] = max(lit, 0.0)


@njit(nogil=True, cache=True, fastmath=True)
def _add_four(one: Any, two: Any, three: Any, four: Any, weights: Any, into: Any) -> None:
    """Add four lines, each times its weight; whole lines, so that the compiler takes many numbers at once."""
    a, b, c, d = weights[0], weights[1], weights[2], weights[3]
    for x in range(len(into)):
        into[x] += a * one[x] + b * two[x] + c * three[x] + d * four[x]


@njit(nogil=True, cache=True, fastmath=True)
def weigh_rows(picture: Any, weights: Any, first: int, last: int, out: Any) -> None:
    """Write columns of a picture (H, W) float32 with each row the weighted sum of those about it; beyond the edge is nothing.

    Four rows are summed up at once; the weights (4k,) go on with zeros.
    """
    high, far = picture.shape[0], len(weights) // 2
    for y in range(high):
        into = out[y, first:last]
        into[:] = np.float32(0.0)
        for k in range(0, len(weights), 4):
            row = y + k - far
            if row < 0 or row + 3 >= high:
                for j in range(4):
                    if 0 <= row + j < high:
                        one, a = picture[row + j, first:last], weights[k + j]
                        for x in range(len(into)):
                            into[x] += a * one[x]
                continue
            _add_four(
                picture[row, first:last], picture[row + 1, first:last], picture[row + 2, first:last],
                picture[row + 3, first:last], weights[k : k + 4], into,
            )  # fmt: skip


@njit(nogil=True, cache=True, fastmath=True)
def weigh_columns(picture: Any, channels: int, weights: Any, first: int, last: int, line: Any, out: Any) -> None:
    """Write rows of a picture (H, W * channels) float32 with each column the weighted sum of those about it.

    `line` (W * channels + 2 * reach * channels) is room for a row with nothing at both ends.
    """
    wide, room = picture.shape[1], len(weights) // 2 * channels
    for y in range(first, last):
        for x in range(wide):
            line[room + x] = picture[y, x]
        into = out[y]
        into[:] = np.float32(0.0)
        for k in range(0, len(weights), 4):
            one, at = channels, k * channels
            _add_four(
                line[at : at + wide], line[at + one : at + one + wide], line[at + 2 * one : at + 2 * one + wide],
                line[at + 3 * one : at + 3 * one + wide], weights[k : k + 4], into,
            )  # fmt: skip


@njit(nogil=True, cache=True, fastmath=True)
def block_means(picture: Any, channels: int, block: int, first: int, last: int, out: Any) -> None:
    """Write rows of the means over blocks of a picture (H, W * channels), one more block all round; beyond the edge is nothing."""
    high, wide = picture.shape[0], picture.shape[1] // channels
    share = np.float32(1.0 / (block * block))
    for j in range(first, last):
        into = out[j]
        into[:] = np.float32(0.0)
        for y in range(max(0, (j - 1) * block), min(high, j * block)):
            row = picture[y]
            for x in range(wide):
                at = (x // block + 1) * channels
                for c in range(channels):
                    into[at + c] += share * row[x * channels + c]


@njit(nogil=True, cache=True, fastmath=True)
def between_blocks(small: Any, channels: int, block: int, first: int, last: int, line: Any, out: Any) -> None:
    """Write rows of a picture (H, W * channels) on the straight lines between the middles of blocks; `line` is room for a row."""
    wide = out.shape[1] // channels
    for y in range(first, last):
        at = (y + 0.5) / block + 0.5
        top = min(int(at), small.shape[0] - 2)
        v = np.float32(at - top)
        one, two = small[top], small[top + 1]
        for x in range(len(line)):
            line[x] = one[x] + (two[x] - one[x]) * v
        into = out[y]
        for x in range(wide):
            at = (x + 0.5) / block + 0.5
            left = min(int(at), len(line) // channels - 2)
            u = np.float32(at - left)
            for c in range(channels):
                here = line[left * channels + c]
                into[x * channels + c] = here + (line[(left + 1) * channels + c] - here) * u


@njit(nogil=True, cache=True, fastmath=True)
def _add_between(picture: Any, x: float, y: float, share: Any, into: Any) -> None:
    """Add a share of a picture (H, W, C) at a place in px from the middle of the first one, between four of them."""
    left, top = math.floor(x), math.floor(y)
    u, v = np.float32(x - left), np.float32(y - top)
    for dy in range(2):
        row = top + dy
        if row < 0 or row >= picture.shape[0]:
            continue
        down = (v if dy else np.float32(1.0) - v) * share
        for dx in range(2):
            column = left + dx
            if 0 <= column < picture.shape[1]:
                w = (u if dx else np.float32(1.0) - u) * down
                for c in range(into.shape[0]):
                    into[c] += w * picture[row, column, c]


@njit(nogil=True, cache=True, fastmath=True)
def moved_rows(picture: Any, channels: int, across: int, down: int, u: float, v: float, first: int, last: int, out: Any) -> None:
    """Write rows of a picture (H, W * channels) float32 from so many whole px to the left and above, and parts of one, 0..1.

    What comes in is clear.
    """
    high, wide = picture.shape
    parts = np.array([(1 - u) * (1 - v), u * (1 - v), (1 - u) * v, u * v], np.float32)
    for y in range(first, last):
        into = out[y]
        for x in range(wide):
            into[x] = np.float32(0.0)
        for k in range(4):
            row, shift = y - down - k // 2, (across + k % 2) * channels
            if not 0 <= row < high or parts[k] == 0.0:
                continue
            line, part = picture[row], parts[k]
            for x in range(max(shift, 0), min(wide, wide + shift)):
                into[x] += part * line[x - shift]


@njit(nogil=True, cache=True, fastmath=True)
def from_elsewhere(picture: Any, xs: Any, ys: Any, out: Any) -> None:
    """Write what a picture (H, W, C) has at places (H, W) in px."""
    for y in range(out.shape[0]):
        for x in range(out.shape[1]):
            into = out[y, x]
            into[:] = np.float32(0.0)
            _add_between(picture, xs[y, x], ys[y, x], np.float32(1.0), into)


@njit(nogil=True, cache=True, fastmath=True)
def streak_rows(
    picture: Any, cx: float, cy: float, amount: float, longest: float, around: bool, first: int, last: int, out: Any
) -> None:
    """Write rows of the means of a picture (H, W, C) along rays to a centre in px, or along arcs round it of so many radians.

    Along rays they are that part of the way long, and at most `longest` px.
    """
    for y in range(first, last):
        for x in range(picture.shape[1]):
            dx, dy = x - cx, y - cy
            far = math.sqrt(dx * dx + dy * dy)
            part_of = min(amount, longest / far) if far > 0.0 and not around else amount
            count = min(ALONG_MOST, int(far * part_of / APART) + 8)
            into = out[y, x]
            into[:] = np.float32(0.0)
            share = np.float32(1.0 / count)
            for k in range(count):
                part = (k + 0.5) / count
                if around:
                    angle = (part - 0.5) * amount
                    c, s = math.cos(angle), math.sin(angle)
                    _add_between(picture, cx + c * dx - s * dy, cy + s * dx + c * dy, share, into)
                else:
                    q = 1.0 - part_of * part
                    _add_between(picture, cx + q * dx, cy + q * dy, share, into)


@njit(nogil=True, cache=True, fastmath=True)
def flow_rows(picture: Any, angle: Any, length: Any, first: int, last: int, out: Any) -> None:
    """Write rows of the means of a picture (H, W, C) along a flow of directions (H, W) in radians, under a Gaussian.

    `length` (H, W) is its deviation in px.
    """
    high, wide = angle.shape
    for y in range(first, last):
        for x in range(wide):
            into = out[y, x]
            into[:] = np.float32(0.0)
            _add_between(picture, x, y, np.float32(1.0), into)
            own = float(length[y, x])
            if own < 0.05:
                continue
            most = min(ALONG_MOST // 2, int(2.0 * own / APART) + 1)
            step, total = 2.0 * own / most, 1.0
            for way in (-1.0, 1.0):
                px, py = float(x), float(y)
                c, s = way * math.cos(angle[y, x]), way * math.sin(angle[y, x])
                for k in range(1, most + 1):
                    px, py = px + step * c, py + step * s
                    column, row = int(px + 0.5), int(py + 0.5)
                    if column < 0 or row < 0 or column >= wide or row >= high:
                        break
                    nc, ns = math.cos(angle[row, column]), math.sin(angle[row, column])
                    if nc * c + ns * s < 0.0:
                        nc, ns = -nc, -ns
                    c, s = nc, ns
                    far = k * step / own
                    w = math.exp(-0.5 * far * far)
                    _add_between(picture, px, py, np.float32(w), into)
                    total += w
            for c in range(out.shape[2]):
                out[y, x, c] /= np.float32(total)


@njit(nogil=True, cache=True)
def nearest_columns(sites: Any, row_of: Any) -> None:
    """Write for each pixel (H, W) the row of the nearest site in its column, or -1 where that has none."""
    high, wide = sites.shape
    for y in range(high):
        for x in range(wide):
            row_of[y, x] = y if sites[y, x] else (row_of[y - 1, x] if y else -1)
    for y in range(high - 2, -1, -1):
        for x in range(wide):
            below, above = row_of[y + 1, x], row_of[y, x]
            if below >= 0 and (above < 0 or below - y < y - above):
                row_of[y, x] = below


@njit(nogil=True, cache=True)
def nearest_in_rows(row_of: Any, first: int, last: int, column_of: Any) -> None:
    """Write for rows of pixels the column whose nearest site is the nearest of all, or -1: the lower hull of parabolas.

    P. F. Felzenszwalb and D. P. Huttenlocher, Distance transforms of sampled functions, Theory of Computing 8 (2012).
    """
    wide = row_of.shape[1]
    hull, ends = np.zeros(wide, np.int64), np.zeros(wide + 1)
    for y in range(first, last):
        k = -1
        for x in range(wide):
            if row_of[y, x] < 0:
                continue
            high = float(row_of[y, x] - y) ** 2 + float(x) * x
            begin = -1e20
            while k >= 0:
                other = hull[k]
                begin = (high - (float(row_of[y, other] - y) ** 2 + float(other) * other)) / (2.0 * (x - other))
                if begin > ends[k]:
                    break
                k -= 1
            if k < 0:
                begin = -1e20
            k += 1
            hull[k], ends[k], ends[k + 1] = x, begin, 1e20
        if k < 0:
            for x in range(wide):
                column_of[y, x] = -1
            continue
        j = 0
        for x in range(wide):
            while ends[j + 1] < x:
                j += 1
            column_of[y, x] = hull[j]


@njit(nogil=True, cache=True, fastmath=True)
def distance_rows(row_of: Any, column_of: Any, edge: Any, most: float, first: int, last: int, out: Any) -> None:
    """Write for rows of pixels how far an edge is, by its points and its directions (H, W, 4) in the pixels that have one.

    The nearest pixels of those about it are looked at too, since the points in them lie off their middles. Beside a point, an edge
    goes on straight for `BESIDE` px: distances to points alone would change their direction from one to the next. Farther than
    `most` px the distance to the middle of the pixel itself will do.
    """
    high, wide = row_of.shape
    for y in range(first, last):
        for x in range(wide):
            best, found = 1e20, 1e20
            column = column_of[y, x]
            if column >= 0:
                far = float(column - x) ** 2 + float(row_of[y, column] - y) ** 2
                if far > most * most:
                    out[y, x] = math.sqrt(far)
                    continue
            for dy in range(-1, 2):
                for dx in range(-1, 2):
                    j, i = min(max(y + dy, 0), high - 1), min(max(x + dx, 0), wide - 1)
                    column = column_of[j, i]
                    if column < 0:
                        continue
                    row = row_of[j, column]
                    ax, ay = edge[row, column, 0] - x, edge[row, column, 1] - y
                    far = ax * ax + ay * ay
                    if far < best:
                        nx, ny = edge[row, column, 2], edge[row, column, 3]
                        off, along = ax * nx + ay * ny, max(abs(ax * ny - ay * nx) - BESIDE, 0.0)
                        best, found = far, math.sqrt(off * off + along * along)
            out[y, x] = found
