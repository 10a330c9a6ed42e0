"""What each plant is, and how strongly it serves: textbook botany, and our own ratings from 0 to 5."""

# key | name | botanical | family | life cycle | C3/C4 | season | nitrogen | roots | ratings in the order of SERVICES
PLANTS = """
rye | Cereal rye | Secale cereale | Poaceae | annual | C3 | winter | captures | fibrous | 0554334504423
triticale | Triticale | × Triticosecale | Poaceae | annual | C3 | winter | captures | fibrous | 0444334405323
winter-wheat | Winter wheat | Triticum aestivum | Poaceae | annual | C3 | winter | captures | fibrous | 0434334404322
winter-barley | Winter barley | Hordeum vulgare | Poaceae | annual | C3 | winter | captures | fibrous | 0444334404412
spring-barley | Spring barley | Hordeum vulgare | Poaceae | annual | C3 | cool | captures | fibrous | 0343323304412
oat | Oat | Avena sativa | Poaceae | annual | C3 | cool | captures | fibrous | 0444423404232
winter-oat | Winter oat | Avena sativa | Poaceae | annual | C3 | winter | captures | fibrous | 0444423404232
black-oat | Black oat | Avena strigosa | Poaceae | annual | C3 | cool | captures | fibrous | 0444423404332
annual-ryegrass | Annual ryegrass | Lolium multiflorum | Poaceae | annual | C3 | cool | captures | fibrous | 0544524505233
italian-ryegrass | Italian ryegrass | Lolium multiflorum | Poaceae | biennial | C3 | cool | captures | fibrous | 0544524505233
perennial-ryegrass | Perennial ryegrass | Lolium perenne | Poaceae | perennial | C3 | cool | captures | fibrous | 0444524505233
cocksfoot | Cocksfoot | Dactylis glomerata | Poaceae | perennial | C3 | cool | captures | fibrous | 0334424504324
tall-fescue | Tall fescue | Lolium arundinaceum | Poaceae | perennial | C3 | cool | captures | fibrous | 0334434504443
sorghum-sudangrass | Sorghum-sudangrass | Sorghum bicolor × S. drummondii | Poaceae | annual | C4 | warm | captures | fibrous | 0555344405521
sudangrass | Sudangrass | Sorghum drummondii | Poaceae | annual | C4 | warm | captures | fibrous | 0445344405521
pearl-millet | Pearl millet | Cenchrus americanus | Poaceae | annual | C4 | warm | captures | fibrous | 0444333305511
japanese-millet | Japanese millet | Echinochloa esculenta | Poaceae | annual | C4 | warm | captures | fibrous | 0343323304252
foxtail-millet | Foxtail millet | Setaria italica | Poaceae | annual | C4 | warm | captures | fibrous | 0343323304511
proso-millet | Proso millet | Panicum miliaceum | Poaceae | annual | C4 | warm | captures | fibrous | 0333323203511
teff | Teff | Eragrostis tef | Poaceae | annual | C4 | warm | captures | fibrous | 0343323404431
buckwheat | Buckwheat | Fagopyrum esculentum | Polygonaceae | annual | C3 | warm | neither | tap | 0252412251112
phacelia | Phacelia | Phacelia tanacetifolia | Boraginaceae | annual | C3 | cool | captures | fibrous | 0433422350312
white-mustard | White mustard | Sinapis alba | Brassicaceae | annual | C3 | cool | captures | tap | 0443323342211
brown-mustard | Brown mustard | Brassica juncea | Brassicaceae | annual | C3 | cool | captures | tap | 0443323342211
ethiopian-mustard | Ethiopian mustard | Brassica carinata | Brassicaceae | annual | C3 | cool | captures | tap | 0443333342311
rocket | Rocket | Eruca vesicaria | Brassicaceae | annual | C3 | cool | captures | tap | 0332222231311
forage-radish | Forage radish | Raphanus sativus | Brassicaceae | annual | C3 | cool | captures | tap | 0542454223211
winter-rape | Winter rape | Brassica napus | Brassicaceae | biennial | C3 | winter | captures | tap | 0443344434222
turnip-rape | Winter turnip rape | Brassica rapa subsp. oleifera | Brassicaceae | biennial | C3 | winter | captures | tap | 0443343434222
turnip | Turnip | Brassica rapa | Brassicaceae | biennial | C3 | cool | captures | tap | 0432333334211
kale | Kale | Brassica oleracea | Brassicaceae | biennial | C3 | cool | captures | tap | 0433333325222
winter-camelina | Winter camelina | Camelina sativa | Brassicaceae | annual | C3 | winter | captures | tap | 0331222330311
flax | Flax | Linum usitatissimum | Linaceae | annual | C3 | cool | neither | tap | 0212222230212
sunflower | Sunflower | Helianthus annuus | Asteraceae | annual | C3 | warm | captures | tap | 0323253252411
niger | Niger | Guizotia abyssinica | Asteraceae | annual | C3 | warm | captures | tap | 0332222241311
french-marigold | French marigold | Tagetes patula | Asteraceae | annual | C3 | warm | neither | fibrous | 0122211240211
chicory | Chicory | Cichorium intybus | Asteraceae | perennial | C3 | cool | captures | tap | 0322354225422
plantain | Ribwort plantain | Plantago lanceolata | Plantaginaceae | perennial | C3 | cool | captures | fibrous | 0322323315433
field-pea | Field pea | Pisum sativum | Fabaceae | annual | C3 | cool | fixes | tap | 4132312324211
winter-field-pea | Winter field pea | Pisum sativum | Fabaceae | annual | C3 | winter | fixes | tap | 4132312324211
faba-bean | Faba bean | Vicia faba | Fabaceae | annual | C3 | cool | fixes | tap | 4123233343132
winter-faba-bean | Winter faba bean | Vicia faba | Fabaceae | annual | C3 | winter | fixes | tap | 4123233343132
hairy-vetch | Hairy vetch | Vicia villosa | Fabaceae | annual | C3 | winter | fixes | tap | 5243323343323
woollypod-vetch | Woollypod vetch | Vicia villosa subsp. varia | Fabaceae | annual | C3 | winter | fixes | tap | 5153323344323
common-vetch | Common vetch | Vicia sativa | Fabaceae | annual | C3 | cool | fixes | tap | 4132312333222
grass-pea | Grass pea | Lathyrus sativus | Fabaceae | annual | C3 | cool | fixes | tap | 4122312232432
crimson-clover | Crimson clover | Trifolium incarnatum | Fabaceae | annual | C3 | winter | fixes | tap | 4133323354223
berseem-clover | Berseem clover | Trifolium alexandrinum | Fabaceae | annual | C3 | cool | fixes | tap | 4243423345232
persian-clover | Persian clover | Trifolium resupinatum | Fabaceae | annual | C3 | cool | fixes | tap | 4132322345132
balansa-clover | Balansa clover | Trifolium michelianum | Fabaceae | annual | C3 | winter | fixes | tap | 4133323355142
arrowleaf-clover | Arrowleaf clover | Trifolium vesiculosum | Fabaceae | annual | C3 | winter | fixes | tap | 4133333355312
red-clover | Red clover | Trifolium pratense | Fabaceae | perennial | C3 | cool | fixes | tap | 4233433455234
white-clover | White clover | Trifolium repens | Fabaceae | perennial | C3 | cool | fixes | tap | 3132423544244
alsike-clover | Alsike clover | Trifolium hybridum | Fabaceae | perennial | C3 | cool | fixes | tap | 3132322354153
subclover | Subterranean clover | Trifolium subterraneum | Fabaceae | annual | C3 | winter | fixes | tap | 4153413515424
sweetclover | Yellow sweetclover | Melilotus officinalis | Fabaceae | biennial | C3 | cool | fixes | tap | 5145354453511
medic | Burr medic | Medicago polymorpha | Fabaceae | annual | C3 | winter | fixes | tap | 4133323424523
lucerne | Lucerne | Medicago sativa | Fabaceae | perennial | C3 | cool | fixes | tap | 4233454445511
birdsfoot-trefoil | Birdsfoot trefoil | Lotus corniculatus | Fabaceae | perennial | C3 | cool | fixes | tap | 3122333445443
fenugreek | Fenugreek | Trigonella foenum-graecum | Fabaceae | annual | C3 | cool | fixes | tap | 3112222232311
serradella | Serradella | Ornithopus sativus | Fabaceae | annual | C3 | cool | fixes | tap | 3122222334312
white-lupin | White lupin | Lupinus albus | Fabaceae | annual | C3 | cool | fixes | tap | 4122243242211
narrow-leaved-lupin | Narrow-leaved lupin | Lupinus angustifolius | Fabaceae | annual | C3 | cool | fixes | tap | 4122243242211
cowpea | Cowpea | Vigna unguiculata | Fabaceae | annual | C3 | warm | fixes | tap | 4143223244512
mung-bean | Mung bean | Vigna radiata | Fabaceae | annual | C3 | warm | fixes | tap | 3122222233411
lablab | Lablab | Lablab purpureus | Fabaceae | annual | C3 | warm | fixes | tap | 4144223335512
velvet-bean | Velvet bean | Mucuna pruriens | Fabaceae | annual | C3 | warm | fixes | tap | 4145323422412
pigeon-pea | Pigeon pea | Cajanus cajan | Fabaceae | annual | C3 | warm | fixes | tap | 4124254343511
sunn-hemp | Sunn hemp | Crotalaria juncea | Fabaceae | annual | C3 | warm | fixes | tap | 5145243332411
"""

CLIMB = ("field-pea", "winter-field-pea", "hairy-vetch", "woollypod-vetch", "common-vetch", "grass-pea", "lablab",
         "velvet-bean", "cowpea")  # fmt: skip
CARRY = ("rye", "triticale", "winter-wheat", "winter-barley", "spring-barley", "oat", "winter-oat", "black-oat",
         "sorghum-sudangrass", "sudangrass", "pearl-millet", "sunflower", "faba-bean", "winter-faba-bean", "sunn-hemp",
         "white-mustard", "brown-mustard", "ethiopian-mustard", "winter-rape", "turnip-rape", "pigeon-pea")  # fmt: skip

_PEA, _CLOVER, _LUCERNE = "pea and vetch", "clover", "lucerne and sweetclover"
INOCULANTS = {
    **dict.fromkeys(("field-pea", "winter-field-pea", "faba-bean", "winter-faba-bean", "hairy-vetch",
                     "woollypod-vetch", "common-vetch", "grass-pea"), _PEA),
    **dict.fromkeys(("crimson-clover", "berseem-clover", "persian-clover", "balansa-clover", "arrowleaf-clover",
                     "red-clover", "white-clover", "alsike-clover", "subclover"), _CLOVER),
    **dict.fromkeys(("sweetclover", "medic", "lucerne", "fenugreek"), _LUCERNE),
    **dict.fromkeys(("cowpea", "mung-bean", "lablab", "velvet-bean", "pigeon-pea", "sunn-hemp"), "cowpea"),
    **dict.fromkeys(("white-lupin", "narrow-leaved-lupin", "serradella"), "lupin and serradella"),
    "birdsfoot-trefoil": "trefoil",
}  # fmt: skip
NO_INOCULANT = "none needed"

NO_MYCORRHIZA = ("Brassicaceae",)
MYCORRHIZA_BY_GENUS = {"white-lupin": "no", "narrow-leaved-lupin": "no", "buckwheat": "weak"}

PARTNERS = {
    "rye": "hairy-vetch, crimson-clover, winter-field-pea", "triticale": "hairy-vetch, winter-field-pea",
    "winter-wheat": "crimson-clover, red-clover, hairy-vetch",
    "winter-barley": "crimson-clover, winter-field-pea, hairy-vetch",
    "spring-barley": "field-pea, common-vetch", "oat": "field-pea, common-vetch, berseem-clover, forage-radish",
    "winter-oat": "hairy-vetch, winter-field-pea, crimson-clover", "black-oat": "common-vetch, forage-radish",
    "annual-ryegrass": "crimson-clover, berseem-clover", "italian-ryegrass": "red-clover, crimson-clover",
    "perennial-ryegrass": "white-clover, red-clover", "cocksfoot": "lucerne, red-clover",
    "tall-fescue": "white-clover, birdsfoot-trefoil", "sorghum-sudangrass": "cowpea, buckwheat, sunn-hemp",
    "sudangrass": "cowpea, lablab", "pearl-millet": "cowpea, sunn-hemp", "japanese-millet": "cowpea",
    "foxtail-millet": "cowpea, mung-bean", "buckwheat": "cowpea, phacelia",
    "phacelia": "oat, common-vetch, berseem-clover", "white-mustard": "common-vetch, berseem-clover",
    "brown-mustard": "common-vetch, berseem-clover", "forage-radish": "oat, black-oat, common-vetch",
    "winter-rape": "rye, crimson-clover, hairy-vetch", "turnip": "oat, annual-ryegrass",
    "flax": "phacelia, berseem-clover", "sunflower": "cowpea, buckwheat, niger", "niger": "phacelia, berseem-clover",
    "field-pea": "oat, spring-barley", "winter-field-pea": "rye, winter-barley, triticale",
    "faba-bean": "oat, phacelia", "winter-faba-bean": "rye, winter-oat",
    "hairy-vetch": "rye, winter-oat, triticale, winter-wheat", "woollypod-vetch": "winter-oat, rye",
    "common-vetch": "oat, black-oat, phacelia", "crimson-clover": "rye, annual-ryegrass, winter-barley",
    "berseem-clover": "oat, annual-ryegrass, phacelia", "balansa-clover": "rye, winter-oat",
    "red-clover": "winter-wheat, winter-barley, oat", "white-clover": "perennial-ryegrass",
    "subclover": "winter-oat, annual-ryegrass", "sweetclover": "oat, red-clover", "medic": "winter-barley, winter-oat",
    "lucerne": "cocksfoot, oat", "winter-camelina": "rye, hairy-vetch", "white-lupin": "oat",
    "narrow-leaved-lupin": "oat, spring-barley", "cowpea": "sorghum-sudangrass, pearl-millet, buckwheat",
    "sunn-hemp": "sorghum-sudangrass, pearl-millet",
}  # fmt: skip
"""Usual partners in a mix; where none is named, none is known as usual."""
