"""Public reference sets with known answers."""

from __future__ import annotations

import numpy as np

# Norris: calibration of ozone monitors, 36 rows, lower level of difficulty (NIST StRD, linear
# regression). Columns y, x.
NORRIS = np.array(
    """
    0.1 0.2  338.8 337.4  118.1 118.2  888.0 884.6  9.2 10.1  228.1 226.5  668.5 666.3
    998.5 996.3  449.1 448.6  778.9 777.0  559.2 558.2  0.3 0.4  0.1 0.6  778.1 775.5
    668.8 666.9  339.3 338.0  448.9 447.5  10.8 11.6  557.7 556.0  228.3 228.1  998.0 995.8
    888.8 887.6  119.6 120.2  0.3 0.3  0.6 0.3  557.6 556.8  339.3 339.1  888.0 887.2
    998.5 999.0  778.9 779.0  10.2 11.1  117.6 118.3  228.9 229.2  668.4 669.1  449.2 448.9
    0.2 0.5
    """.split(),
    dtype=float,
).reshape(-1, 2)
NORRIS_CERTIFIED = {
    "a": -0.262323073774029,
    "a_se": 0.232818234301152,
    "b": 1.00211681802045,
    "b_se": 0.429796848199937e-03,
    "residual_sd": 0.884796396144373,
    "r_squared": 0.999993745883712,
}

# NoInt1: 11 rows, y = b x (NIST StRD, linear regression).
NOINT1_X, NOINT1_Y = np.arange(60.0, 71.0), np.arange(130.0, 141.0)
NOINT1_CERTIFIED = {
    "b": 2.07438016528926,
    "b_se": 0.165289256198347e-01,
    "residual_sd": 3.56753034006338,
    "r_squared": 0.999365492298663,
}

# Anscombe 1973, table: four sets with almost the same line and quite different stories.
_X123 = [10, 8, 13, 9, 11, 14, 6, 4, 12, 7, 5]
ANSCOMBE = {
    "I": (_X123, [8.04, 6.95, 7.58, 8.81, 8.33, 9.96, 7.24, 4.26, 10.84, 4.82, 5.68]),
    "II": (_X123, [9.14, 8.14, 8.74, 8.77, 9.26, 8.10, 6.13, 3.10, 9.13, 7.26, 4.74]),
    "III": (_X123, [7.46, 6.77, 12.74, 7.11, 7.81, 8.84, 6.08, 5.39, 8.15, 6.42, 5.73]),
    "IV": (
        [8, 8, 8, 8, 8, 8, 8, 19, 8, 8, 8],
        [6.58, 5.76, 7.71, 8.84, 8.47, 7.04, 5.25, 12.50, 5.56, 7.91, 6.89],
    ),
}

# Wampler (1970): powers of 0 to 20 with known scatter; every coefficient is certified as 1.
WAMPLER_X = np.arange(21.0)
_FIRST_HALF = [759.0, -2048, 2048, -2048, 2523, -2048, 2048, -2048, 1838, -2048]
WAMPLER_SCATTER = np.array([*_FIRST_HALF, 2048.0, *reversed(_FIRST_HALF)])
WAMPLER_EXACT_Y = sum(WAMPLER_X**k for k in range(6))
WAMPLER3_SE = [
    2152.32624678170,
    2363.55173469681,
    779.343524331583,
    101.475507550350,
    5.64566512170752,
    0.112324854679312,
]
WAMPLER3_RESIDUAL_SD = 2360.14502379268
WAMPLER3_R_SQUARED = 0.999995559025820

# Daniel and Wood (1980): radiated energy against temperature, y = b1 x^b2 by least squares on y.
DANWOOD_X = [1.309, 1.471, 1.490, 1.565, 1.611, 1.680]
DANWOOD_Y = [2.138, 3.421, 3.597, 4.340, 4.882, 5.660]
DANWOOD_CERTIFIED = {
    "a": (7.6886226176e-1, 1.8281973860e-2),
    "b": (3.8604055871, 5.1726610913e-2),
    "residual_sd": 3.2853114039e-2,
}

# Ratkowsky (1983): yield of pasture over time, y = b1 / (1 + exp(b2 − b3 x)).
RAT42_X = [9.0, 14, 21, 28, 42, 57, 63, 70, 79]
RAT42_Y = [8.93, 10.80, 18.59, 22.33, 39.35, 56.11, 61.73, 64.62, 67.08]
RAT42_CERTIFIED = {
    "upper": (7.2462237576e1, 1.7340283401),
    "steepness": (6.7359200066e-2, 3.4465663377e-3),
    "b2": 2.6180768402,
    "residual_sd": 1.1587725499,
}
