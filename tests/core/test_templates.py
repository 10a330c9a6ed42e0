"""Each common trial can be drawn as it stands, and its control and measures are there."""

import pytest

from apercu_core.design.plan_file import draw_plan, read_plan
from apercu_core.design.templates import TEMPLATES
from apercu_core.measures.catalogue import CATALOGUE


@pytest.mark.parametrize("template", TEMPLATES.values(), ids=TEMPLATES)
def test_a_template_can_be_drawn_and_read(template):
    names = [t.name for t in template.treatments]
    assert template.control in names or all(
        level in template.factors[factor] for factor, level in template.control_levels.items()
    )
    assert bool(template.control) != bool(template.control_levels)
    assert set(template.measures) <= set(CATALOGUE)
    what = {"factors": {k: list(v) for k, v in template.factors.items()}} if template.factors else {"treatments": names}
    raw = {"design": template.design, "blocks": 4, "seed": 1, **what}
    if template.outside:
        raw["control"] = template.control
    if template.strips:
        raw["whole_plot_factor"] = template.strips[0]
    drawn = {one.plot.treatment for one in draw_plan(read_plan(raw))}
    assert len(drawn) == len(names)


def test_the_uncovered_gets_every_rate_of_fertiliser_and_every_kill_date_too():
    names = [t.name for t in TEMPLATES["cover-fertiliser"].treatments]
    assert len([name for name in names if name.startswith("no cover, ")]) == 5
    kills = [t.name for t in TEMPLATES["kill-timing-species"].treatments]
    assert {"early, no cover", "late, no cover"} <= set(kills)
