"""Stages of each kind of plant, a line each: BBCH code, what one sees, and for cereals the older scale beside it.

Codes after Meier (ed.) 2018, Growth stages of mono- and dicotyledonous plants, BBCH monograph; the cereal stages have
the same numbers in Zadoks, Chang and Konzak 1974 (Weed Research 14: 415–421). The figures in the third column are of
Large 1954 (Plant Pathology 3: 128–129). The descriptions are ours.
"""

CEREAL = """
0 | dry seed |
9 | first leaf breaks through the soil |
11 | first leaf is open | 1
12 | two leaves are open | 1
13 | three leaves are open | 1
21 | first side shoot (tiller) | 2
23 | three side shoots | 3
25 | five side shoots | 3
29 | last side shoots, leaves stand up | 4
30 | stem begins to lengthen, the young ear is 1 cm above the base | 5
31 | first node can be felt | 6
32 | second node can be felt | 7
37 | tip of the last leaf (flag leaf) shows | 8
39 | flag leaf is fully out | 9
45 | sheath of the flag leaf is swollen (boot) | 10
49 | first awns or tips of the ear show | 10.1
55 | half of the ear or panicle is out | 10.3
59 | ear or panicle is fully out | 10.5
61 | first anthers show: flowering begins | 10.5.1
65 | half of the anthers are ripe: full flower | 10.5.2
69 | flowering is over, dry anthers hang | 10.5.3
71 | grains are half as long as they will be, watery | 10.5.4
75 | milk is pressed out of the grain | 11.1
83 | early dough |
85 | soft dough, a nail leaves no lasting mark | 11.2
87 | hard dough, a nail leaves a mark | 11.3
92 | grain is hard and can’t be dented | 11.4
"""
PULSE = """
0 | dry seed |
9 | shoot breaks through the soil |
11 | first true leaf is open |
13 | three true leaves are open |
15 | five true leaves are open |
31 | stem lengthens, first long internode |
35 | five long internodes |
39 | nine or more long internodes |
51 | first flower buds can be seen |
55 | single buds stand out of the leaves |
61 | one flower in ten is open: flowering begins |
65 | half of the flowers are open: full flower |
69 | flowering is over |
71 | one pod in ten has its full length |
75 | half of the pods have their full length |
79 | all pods have their full length, seeds green |
81 | one pod in ten is ripe, seeds hard |
85 | half of the pods are ripe |
89 | all pods are dry, seeds hard |
"""
CLOVER = """
0 | dry seed |
9 | seed leaves break through the soil |
11 | first leaf with three leaflets |
13 | three such leaves |
21 | first side shoot |
25 | five side shoots |
31 | stems lengthen |
39 | stems have their full length |
51 | first flower heads can be seen |
55 | heads stand above the leaves |
61 | one head in ten has open flowers: flowering begins |
65 | half of the heads are in flower: full flower |
69 | flowering is over, heads turn brown |
71 | first seeds are formed |
79 | most seeds have their full size, green |
85 | half of the seeds are hard |
89 | seeds are hard and fall out |
"""
BRASSICA = """
0 | dry seed |
9 | seed leaves break through the soil |
10 | seed leaves are open |
12 | two true leaves |
14 | four true leaves |
16 | six true leaves |
19 | rosette of nine or more leaves |
30 | stem begins to lengthen |
35 | five long internodes |
51 | buds can be seen from above, green |
55 | single buds stand apart, closed |
59 | first petals show, buds closed |
61 | one flower in ten is open: flowering begins |
65 | half of the flowers are open: full flower |
69 | flowering is over |
71 | one pod in ten has its full length |
75 | half of the pods have their full length |
79 | nearly all pods have their full length |
81 | one pod in ten is ripe, seeds dark and hard |
85 | half of the pods are ripe |
89 | nearly all pods are ripe |
"""
BROADLEAF = """
0 | dry seed |
9 | seed leaves break through the soil |
10 | seed leaves are open |
12 | two true leaves |
14 | four true leaves |
16 | six true leaves |
31 | stem has a tenth of its length |
35 | stem has half of its length |
39 | stem has its full length |
51 | first flower buds can be seen |
55 | single buds stand apart, closed |
61 | one flower in ten is open: flowering begins |
65 | half of the flowers are open: full flower |
69 | flowering is over |
71 | one fruit in ten has its full size |
79 | nearly all fruits have their full size, green |
81 | one seed in ten is ripe |
85 | half of the seeds are ripe |
89 | nearly all seeds are ripe |
97 | the plant is dead |
"""
POTATO = """
0 | seed tuber is dormant |
3 | sprouts show |
9 | stems break through the soil |
13 | three leaves |
15 | five leaves |
31 | one plant in ten meets the next row |
35 | half of the plants meet the next row |
39 | the rows are closed |
40 | tubers begin: stolon tips swell |
51 | first flower buds |
61 | flowering begins |
65 | full flower |
69 | flowering is over |
91 | leaves begin to turn yellow |
95 | half of the leaves are brown |
97 | leaves and stems are dead |
"""
BEET = """
0 | dry seed |
9 | seed leaves break through the soil |
10 | seed leaves are open |
12 | two true leaves |
14 | four true leaves |
16 | six true leaves |
18 | eight true leaves |
31 | leaves cover a tenth of the ground |
35 | leaves cover half of the ground |
39 | the rows are closed |
49 | the root has the size for harvest |
51 | the stem lengthens: the plant bolts |
"""
BULB = """
0 | dry seed or set |
9 | shoot breaks through the soil |
10 | seed leaf stands as a loop |
11 | first true leaf |
12 | two true leaves |
13 | three true leaves |
15 | five true leaves |
19 | nine or more leaves |
41 | the base begins to thicken: bulbs begin |
45 | the bulb has half of its width |
47 | one top in ten is bent over |
48 | half of the tops are bent over |
49 | tops are dead, bulbs are dry outside |
"""
MAIZE = """
0 | dry seed |
9 | shoot breaks through the soil |
12 | two leaves are open |
13 | three leaves are open |
14 | four leaves are open |
16 | six leaves are open |
18 | eight leaves are open |
32 | second node can be felt |
53 | tip of the tassel shows |
59 | tassel is fully out |
63 | pollen falls, tips of the silks show |
65 | silks are fully out |
69 | silks are dry |
71 | grains begin, watery |
75 | milk is pressed out of the grain |
83 | early dough |
85 | dough, grains yellow to the touch |
87 | black layer at the grain’s base |
"""

# kind | base, °C | degree days from one stage to the next, at least and at most, in the order in which they come
PACES = """
cereal | 0 | 0 9 110 170; 9 13 260 350; 13 21 50 120; 21 30 250 450; 30 31 60 120; 31 32 80 130; 32 37 100 160; 37 39 80 130; 39 49 120 180; 49 55 60 110; 55 61 50 100; 61 65 40 70; 65 69 50 90; 69 75 180 260; 75 85 150 230; 85 87 90 150; 87 92 80 160
pulse | 4 | 0 9 90 140; 9 13 100 160; 13 31 60 150; 31 51 150 260; 51 61 70 130; 61 65 60 110; 65 69 80 140; 69 75 80 150; 75 79 60 110; 79 81 80 140; 81 89 120 220
clover | 4 | 0 9 80 140; 9 13 120 200; 13 31 200 400; 31 51 150 300; 51 61 80 140; 61 65 70 120; 65 69 90 160; 69 79 120 220; 79 89 150 280
brassica | 4 | 0 9 60 100; 9 12 60 90; 12 16 100 150; 16 30 60 120; 30 51 60 110; 51 61 90 150; 61 65 60 110; 65 69 120 200; 69 79 150 250; 79 81 100 180; 81 89 150 250
broadleaf | 4 | 0 9 80 130; 9 12 60 100; 12 16 100 160; 16 31 80 140; 31 51 100 200; 51 61 80 150; 61 65 70 130; 65 69 150 260; 69 79 120 220; 79 89 150 300
potato | 4 | 0 9 220 320; 9 15 90 150; 15 31 60 120; 31 39 120 220; 39 91 700 1100
beet | 3 | 0 9 90 130; 9 12 80 120; 12 14 80 110; 14 16 70 100; 16 18 70 100; 18 31 40 100; 31 39 250 350
bulb | 6 | 0 9 140 220; 9 11 100 160; 11 13 120 200
maize | 8 | 0 9 80 120; 9 13 90 140; 13 16 110 170; 16 53 300 450; 53 63 100 160; 63 65 30 70; 65 75 250 330; 75 85 200 300; 85 87 180 280
"""
"""From experience; check locally. Where a scale stops (bulbs by day length, roots at harvest) nothing is forecast."""
