"""What a cover carries to other crops, and how it can hurt stock: from experience."""

_GREEN_BRIDGE = "kill it 10 to 14 days before sowing"
_VIRUS = f"dwarf viruses by green bridge -> cereals (weak, {_GREEN_BRIDGE})"
_ARMYWORM = f"armyworm by green bridge -> maize (weak, {_GREEN_BRIDGE})"
_TAKE_ALL = "take-all -> wheat, barley, rye ({})"
_STEM = "stem nematode -> onion, sugar beet, oat, peas and beans (weak)"
_MOULD = "Sclerotinia -> sunflower, soybean, peas and beans, oilseed rape, carrot, lettuce ({})"
_LESION = "root-lesion nematodes -> potato, carrot, onion ({})"
_ROOT_KNOT = "root-knot nematodes -> potato, carrot, vegetables ({})"
_SMALL_GRAIN = f"volunteers -> cereals (weak); {_VIRUS}; {_ARMYWORM}"
_BRASSICA = (
    "clubroot -> brassicas (strong); beet cyst nematode -> sugar beet, beetroot, spinach (strong, only cultivars bred "
    "as resistant lower it: state the cultivar); turnip yellows virus -> oilseed rape (weak); Verticillium -> oilseed "
    f"rape (weak); flea beetle and cabbage root fly -> brassicas (weak); {_MOULD.format('weak')}"
)
_CLOVER = f"clover rot (Sclerotinia) -> clovers, lucerne, peas and beans (weak); {_LESION.format('weak')}"
_VETCH = (
    f"soybean cyst nematode -> soybean (weak); {_ROOT_KNOT.format('weak')}; {_STEM}; {_LESION.format('weak')}; "
    f"{_MOULD.format('weak')}; foot rots -> peas and beans (weak)"
)
_PEA = f"foot rots and Ascochyta -> peas and beans (strong); {_MOULD.format('weak')}; {_STEM}"

CARRIED = {
    "rye": f"{_TAKE_ALL.format('weak')}; seedling disease (Pythium, Fusarium) -> maize (weak, kill it 10 to 14 days "
           f"before sowing); {_STEM}; ergot -> cereals (weak); {_SMALL_GRAIN}",
    "triticale": f"{_TAKE_ALL.format('weak')}; {_STEM}; {_SMALL_GRAIN}",
    **dict.fromkeys(("winter-wheat", "winter-barley", "spring-barley"),
                    f"{_TAKE_ALL.format('strong')}; {_SMALL_GRAIN}"),
    **dict.fromkeys(("oat", "winter-oat"),
                    f"cereal cyst nematode -> cereals (weak); crown rust -> oat (strong); {_STEM}; {_SMALL_GRAIN}"),
    "black-oat": f"cereal cyst nematode -> cereals (weak); crown rust -> oat (weak); {_STEM}; {_VIRUS}",
    **dict.fromkeys(("annual-ryegrass", "italian-ryegrass", "perennial-ryegrass"),
                    f"{_TAKE_ALL.format('weak')}; herbicide-resistant ryegrass -> cereals (strong); wireworm -> "
                    f"potato (weak); ergot -> cereals (weak); {_VIRUS}"),
    **dict.fromkeys(("cocksfoot", "tall-fescue"), f"wireworm -> potato (weak); {_VIRUS}"),
    **dict.fromkeys(("sorghum-sudangrass", "sudangrass"),
                    f"{_LESION.format('weak')}; maize dwarf mosaic virus -> maize (weak)"),
    "pearl-millet": "maize dwarf mosaic virus -> maize (weak)",
    "buckwheat": f"{_LESION.format('weak')}; Rhizoctonia -> potato, sugar beet (weak); allergen in grain -> cereals "
                 "(weak)",
    "phacelia": "stubby-root nematodes and tobacco rattle virus -> potato (weak); "
                f"{_MOULD.format('weak')}",
    **dict.fromkeys(("white-mustard", "brown-mustard", "ethiopian-mustard", "rocket", "forage-radish", "winter-rape",
                     "turnip-rape", "turnip", "kale"), _BRASSICA),
    "winter-camelina": f"clubroot -> brassicas (weak); {_MOULD.format('weak')}",
    "sunflower": f"{_MOULD.format('strong')}; downy mildew -> sunflower (strong)",
    "niger": _MOULD.format("weak"),
    "chicory": _MOULD.format("weak"),
    **dict.fromkeys(("field-pea", "winter-field-pea", "grass-pea"), _PEA),
    **dict.fromkeys(("faba-bean", "winter-faba-bean"), _PEA),
    **dict.fromkeys(("hairy-vetch", "woollypod-vetch", "common-vetch"), _VETCH),
    "crimson-clover": f"{_CLOVER}; {_ROOT_KNOT.format('weak')}; soybean cyst nematode -> soybean (weak, poor host)",
    "red-clover": f"clover rot (Sclerotinia) -> clovers, lucerne, peas and beans (strong); {_LESION.format('strong')}; "
                  f"{_STEM}",
    **dict.fromkeys(("white-clover", "alsike-clover"), f"{_CLOVER}; {_STEM}"),
    **dict.fromkeys(("berseem-clover", "persian-clover", "balansa-clover", "arrowleaf-clover", "subclover"), _CLOVER),
    **dict.fromkeys(("lucerne", "sweetclover", "medic"), f"Verticillium -> potato (weak); {_LESION.format('weak')}"),
    **dict.fromkeys(("cowpea", "mung-bean", "lablab"),
                    f"{_ROOT_KNOT.format('weak')}; foot rots -> peas and beans, soybean (weak)"),
    **dict.fromkeys(("white-lupin", "narrow-leaved-lupin"), f"foot rots -> peas and beans (weak); {_MOULD.format('weak')}"),
}  # fmt: skip

RESISTS = {
    "white-mustard": "beet cyst nematode, in resistant cultivars only",
    "forage-radish": "beet cyst nematode, in resistant cultivars only",
    "rocket": "beet cyst nematode, in resistant cultivars only",
    "black-oat": "some root-lesion nematodes (Pratylenchus penetrans)", "oat": "a break for take-all of wheat",
    "french-marigold": "root-lesion nematodes (Pratylenchus), where it grows three months",
    "phacelia": "no host of beet cyst nematode or clubroot", "velvet-bean": "root-knot nematodes",
}  # fmt: skip

UNCLEANED = {
    "buckwheat": "cereals; soybean", "triticale": "cereals", "winter-wheat": "cereals", "winter-barley": "cereals",
    "spring-barley": "cereals", "oat": "cereals", "winter-oat": "cereals", "black-oat": "cereals",
    "italian-ryegrass": "cereals",
    **dict.fromkeys(("forage-radish", "white-mustard", "brown-mustard", "winter-rape", "turnip", "turnip-rape",
                     "ethiopian-mustard"), "oilseed rape; brassicas"),
}  # fmt: skip

_NITRATE = "nitrate (manageable, after drought, cold or much nitrogen)"
_BLOAT = "bloat (manageable, on young pure stands, when hungry or wet)"
_TETANY = "grass tetany (manageable, in lush spring growth)"
_CYANIDE = "cyanide (grave, below about 60 cm, in drought, and after frost until dry for two weeks; never horses)"
_RAPE = (
    "anaemia (manageable, as the main feed for weeks); light sensitivity (manageable, on immature crops); "
    f"lung disease (manageable, when moved to it at once); {_NITRATE}; {_BLOAT}"
)
_OESTROGEN = "oestrogens in ewes (manageable, at mating)"
_ALKALOIDS = "alkaloids (grave, in bitter lots and in seed); lupinosis (grave, from mouldy stems)"
_NONE = "none known"

STOCK = {
    "rye": f"{_NITRATE}; {_TETANY}; ergot (manageable, only once it heads)", "triticale": f"{_TETANY}; {_NITRATE}",
    "winter-wheat": f"bloat (manageable, in spring); {_TETANY}; {_NITRATE}",
    "winter-barley": f"{_TETANY}; awns in the mouth (manageable, from heading on)",
    "spring-barley": f"{_NITRATE}; awns in the mouth (manageable, from heading on)",
    "oat": _NITRATE, "winter-oat": _NITRATE, "black-oat": _NITRATE,
    "annual-ryegrass": f"staggers (manageable, in late summer); toxins in seed heads (manageable, once it heads); {_NITRATE}",
    "italian-ryegrass": _NITRATE,
    "perennial-ryegrass": "staggers (manageable, in late summer, where it holds the fungus)",
    "cocksfoot": _NONE, "tall-fescue": "fescue toxin (manageable, in cultivars that hold the wild fungus)",
    "sorghum-sudangrass": f"{_CYANIDE}; {_NITRATE}", "sudangrass": f"{_CYANIDE}; {_NITRATE}",
    "pearl-millet": _NITRATE, "japanese-millet": _NITRATE, "proso-millet": _NITRATE,
    "foxtail-millet": f"{_NITRATE}; kidney and joint disease (grave, horses)", "teff": _NONE,
    "buckwheat": "light sensitivity (manageable, pale skin in sun, from flower on)",
    "phacelia": _NONE, "white-mustard": f"irritant seed (manageable, once pods fill); {_NITRATE}; goitre (manageable, fed for long)",
    "brown-mustard": f"irritant seed (manageable, once pods fill); {_NITRATE}",
    "ethiopian-mustard": f"irritant seed (manageable, once pods fill); {_NITRATE}", "rocket": _NITRATE,
    "forage-radish": f"{_NITRATE}; {_BLOAT}", "winter-rape": _RAPE, "turnip-rape": _RAPE, "kale": _RAPE,
    "turnip": f"{_RAPE}; choking (manageable, on whole bulbs)", "winter-camelina": _NONE,
    "flax": "cyanide (grave, in green growth and immature seed)", "sunflower": _NITRATE, "niger": _NONE,
    "chicory": _NONE, "plantain": _NONE,
    "field-pea": "bloat (manageable, seldom)", "winter-field-pea": "bloat (manageable, seldom)",
    "faba-bean": _NONE, "winter-faba-bean": _NONE,
    "woollypod-vetch": "a disease of skin and organs (grave, cattle and horses that graze it)",
    "common-vetch": "poisonous seed (manageable, pigs and poultry, once pods fill)",
    "grass-pea": "lathyrism (grave, horses, fed for weeks, seed above all)",
    "crimson-clover": f"{_BLOAT}; hair balls in the gut (manageable, horses, on ripe bristly heads)",
    "berseem-clover": "bloat (manageable, seldom)", "persian-clover": _BLOAT, "balansa-clover": f"{_BLOAT}; {_OESTROGEN}",
    "arrowleaf-clover": "bloat (manageable, seldom)",
    "red-clover": f"{_BLOAT}; {_OESTROGEN}; slobbers (manageable, from mouldy hay)",
    "white-clover": f"{_BLOAT}; cyanide in some lots (manageable, as the only feed)",
    "alsike-clover": f"light sensitivity and liver disease (grave, horses); {_BLOAT}",
    "subclover": f"{_OESTROGEN}; {_BLOAT}", "medic": f"{_BLOAT}; burrs (manageable, once ripe)", "lucerne": _BLOAT,
    "birdsfoot-trefoil": _NONE, "fenugreek": "taint in milk (manageable, shortly before milking)",
    "serradella": _NONE, "white-lupin": _ALKALOIDS, "narrow-leaved-lupin": _ALKALOIDS, "cowpea": _NONE,
    "mung-bean": _NONE, "lablab": _NONE, "velvet-bean": "L-dopa (grave, in seed)", "pigeon-pea": _NONE,
    "sunn-hemp": "alkaloids (grave, in seed; not for horses)",
}  # fmt: skip
"""As danger (how grave, when); before stock goes in, the veterinary practice is asked all the same."""
STOCK_CITED = {
    "hairy-vetch": ("a disease of skin and organs (grave, cattle and horses that graze it)", "panciera"),
    "sweetclover": ("bleeding (grave, from mouldy hay or silage); bloat (manageable, on young pure stands)", "clark"),
}  # fmt: skip
