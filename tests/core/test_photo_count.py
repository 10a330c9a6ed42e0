"""Counting on a photograph: straightened to the frame, two people's marks compared, marks suggested."""

from io import BytesIO

import numpy as np
import pytest
from PIL import Image

from apercu_core.errors import Refused
from apercu_core.photo_count.agreement import agreement
from apercu_core.photo_count.frame_corners import (
    WHOLE,
    in_frame,
    length_in_frame,
    on_photograph,
    require_corners,
)
from apercu_core.photo_count.suggested_marks import suggested_marks
from benchmarks.suggested_marks import judged
from standins.camera.photograph import Conditions, photograph

SEEN = ((0.2, 0.1), (0.8, 0.2), (0.9, 0.9), (0.1, 0.8))


def test_corners_of_the_frame_are_corners_of_the_photograph_s_frame_and_back():
    square = np.array(WHOLE)
    assert on_photograph(square, SEEN) == pytest.approx(np.array(SEEN), abs=1e-12)
    inside = np.array([[0.3, 0.7], [0.5, 0.5], [0.02, 0.99]])
    assert in_frame(on_photograph(inside, SEEN), SEEN) == pytest.approx(inside, abs=1e-12)
    assert on_photograph(inside, WHOLE) == pytest.approx(inside, abs=1e-12)


def test_diagonals_cross_at_the_middle_of_the_frame_however_it_is_seen():
    """A projective map keeps lines: by hand, the diagonals of SEEN cross where the middle of the frame is."""
    (ax, ay), (bx, by), (cx, cy), (dx, dy) = SEEN
    t = np.linalg.solve([[cx - ax, bx - dx], [cy - ay, by - dy]], [bx - ax, by - ay])[0]
    crossing = [ax + t * (cx - ax), ay + t * (cy - ay)]
    assert on_photograph(np.array([[0.5, 0.5]]), SEEN)[0] == pytest.approx(crossing)


def test_lengths_are_in_the_unit_of_the_frame_s_sides():
    assert length_in_frame((0.0, 0.0), (1.0, 1.0), 0.3, 0.4) == pytest.approx(0.5)
    assert length_in_frame((0.25, 0.5), (0.75, 0.5), 0.5, 0.5) == pytest.approx(0.25)


@pytest.mark.parametrize(
    ("corners", "said"),
    [
        (SEEN[:3], "four corners"),
        ((SEEN[0], SEEN[2], SEEN[1], SEEN[3]), "don’t go round"),
        (SEEN[::-1], "don’t go round"),
        (((0, 0), (0.5, 0), (1, 0), (0.5, 1)), "don’t go round"),
        (((0, 0), (0, 0), (1, 1), (0, 1)), "don’t go round"),
        (((0.1, 0.1), (0.2, 0.1), (0.2, 0.2), (0.1, 0.2)), "too little"),
        (((0, 0), (9, 0), (1, 1), (0, 1)), "far outside"),
        (((0, 0), (float("nan"), 0), (1, 1), (0, 1)), "far outside"),
    ],
)
def test_corners_that_make_no_frame_are_refused(corners, said):
    with pytest.raises(Refused, match=said):
        require_corners(corners)


def test_agreement_pairs_the_nearest_marks_once():
    first = np.array([[0.10, 0.10], [0.12, 0.10], [0.50, 0.50], [0.90, 0.90]])
    second = np.array([[0.115, 0.10], [0.51, 0.50], [0.20, 0.90]])
    found = agreement(first, second)
    assert (found.both, found.first_only, found.second_only) == (2, 2, 1)
    assert found.share == pytest.approx(4 / 7)
    assert found.said.startswith("57.1 % of the marks agree: 2 are marked in both counts")
    apart = agreement(np.array([[0.10, 0.5]]), np.array([[0.10, 0.52]]), width=0.5, length=1.0)
    assert apart.both == 0  # 2 % of a frame twice as long is 4 % of its shorter side
    nothing = agreement(np.empty((0, 2)), np.empty((0, 2)))
    assert (nothing.share, nothing.said) == (1.0, "Both counts mark the same 0.")


def test_plants_that_stand_alone_are_found_and_bare_ground_has_none():
    precision, recall, plants = judged("small", 0.02, range(4001, 4003))
    assert plants > 20
    assert precision > 0.95
    assert recall > 0.85
    precision, recall, _ = judged("blades", 0.01, range(4001, 4003))
    assert min(precision, recall) > 0.6
    bare = photograph(7, "clay", "small", 0.0, residue=0.3, conditions=Conditions())
    picture = np.asarray(Image.open(BytesIO(bare.jpeg)).convert("RGB"))
    assert "most of these may be straw" in suggested_marks(picture).note
    assert not len(suggested_marks(np.full((40, 60, 3), 120, dtype=np.uint8)).marks)
    full = photograph(7, "clay", "broad", 0.6, conditions=Conditions(), size=(400, 300))
    picture = np.asarray(Image.open(BytesIO(full.jpeg)).convert("RGB"))
    assert "count yourself" in suggested_marks(picture).note
