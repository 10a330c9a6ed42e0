"""Growth stages of a season in the reader's words."""

from __future__ import annotations

from typing import Any

from apercu_core.amounts import amounts_in
from apercu_core.species.crops import CROPS
from apercu_core.stages.forecast import next_stages
from apercu_core.stages.scales import scale_of_crop
from apercu_core.triggers.expect import Stand
from apercu_core.units import System
from apercu_core.weather.thermal_time import Warmth
from operations.api import serializers as shapes
from operations.forecasts import known_in
from operations.plants import crops_named, last_seen, plants_in, season_with_plants
from trials.models import Season


def stages_json(asked: Season, system: System) -> Any:
    season = season_with_plants(asked.pk)
    known = known_in(season)
    plants = [
        {
            "key": plant.key, "name": plant.name, "treatments": plant.treatments,
            "stages": [{"code": one.code, "seen": one.seen, "older": one.older} for one in plant.scale.stages]
            if plant.scale else [],
        }
        for plant in plants_in(season, crops_named(season)).values()
    ]  # fmt: skip
    return shapes.StagesOut(
        {
            "today": known.today, "plants": plants, "crops": [name for name in CROPS if scale_of_crop(name)],
            "stands": [_stand(one, known.warmth, system) for one in known.stands], "seen": last_seen(season),
        }
    ).data  # fmt: skip


def _stand(stand: Stand, warmth: Warmth | None, system: System) -> dict[str, Any]:
    ahead = next_stages(stand.scale, stand.seen, warmth, stand.needs) if stand.scale and stand.seen else ()
    return {
        "treatment": stand.treatment, "plant": stand.plant, "name": stand.name,
        "code": stand.seen and stand.seen.code, "day": stand.seen and stand.seen.day,
        "planned": bool(stand.seen and stand.seen.planned),
        "next": [
            {
                "code": one.stage.code, "seen": one.stage.seen, "day": one.expected.day, "early": one.expected.early,
                "late": one.expected.late, "why": [amounts_in(why, system) for why in one.expected.why],
            }
            for one in ahead
        ],
    }  # fmt: skip
