"""How laboratories name and weigh things: names, units, and what they are of."""

import re

# One acre of plough layer, 6 2/3 inches, is taken for two million pounds.
PPM_IN_LB_ACRE = 0.5
KILOGRAMS_IN_LB_YD3 = 0.59327642
# Names as reports print them, without signs and spaces -> fact, and what is weighed.
NAMES: dict[str, tuple[str, str]] = {
    "totaln": ("N", "N"),
    "n": ("N", "N"),
    "nitrogen": ("N", "N"),
    "tn": ("N", "N"),
    "totalnitrogen": ("N", "N"),
    "tkn": ("N", "N"),
    "kjeldahln": ("N", "N"),
    "nh4n": ("NH4", "N"),
    "ammoniumn": ("NH4", "N"),
    "ammoniacaln": ("NH4", "N"),
    "nh4": ("NH4", "NH4"),
    "ammonium": ("NH4", "N"),
    "no3n": ("NO3", "N"),
    "nitraten": ("NO3", "N"),
    "no3": ("NO3", "NO3"),
    "nitrate": ("NO3", "N"),
    "p": ("P", "P"),
    "phosphorus": ("P", "P"),
    "totalp": ("P", "P"),
    "p2o5": ("P", "P2O5"),
    "phosphate": ("P", "P2O5"),
    "k": ("K", "K"),
    "potassium": ("K", "K"),
    "totalk": ("K", "K"),
    "k2o": ("K", "K2O"),
    "potash": ("K", "K2O"),
    "ca": ("Ca", "Ca"),
    "calcium": ("Ca", "Ca"),
    "cao": ("Ca", "CaO"),
    "mg": ("Mg", "Mg"),
    "magnesium": ("Mg", "Mg"),
    "mgo": ("Mg", "MgO"),
    "s": ("S", "S"),
    "sulfur": ("S", "S"),
    "sulphur": ("S", "S"),
    "so3": ("S", "SO3"),
    "sulfates": ("S", "S"),
    "so4s": ("S", "S"),
    "fe": ("Fe", "Fe"),
    "iron": ("Fe", "Fe"),
    "mn": ("Mn", "Mn"),
    "manganese": ("Mn", "Mn"),
    "zn": ("Zn", "Zn"),
    "zinc": ("Zn", "Zn"),
    "cu": ("Cu", "Cu"),
    "copper": ("Cu", "Cu"),
    "b": ("B", "B"),
    "boron": ("B", "B"),
    "na": ("Na", "Na"),
    "sodium": ("Na", "Na"),
    "cl": ("Cl", "Cl"),
    "chloride": ("Cl", "Cl"),
    "c": ("C", "C"),
    "carbon": ("C", "C"),
    "toc": ("C", "C"),
    "organiccarbon": ("C", "C"),
    "totalorganiccarbon": ("C", "C"),
    "om": ("C", "OM"),
    "organicmatter": ("C", "OM"),
    "loi": ("C", "OM"),
    "ph": ("ph", ""),
    "ec": ("ec", ""),
    "conductivity": ("ec", ""),
    "electricalconductivity": ("ec", ""),
    "solublesalts": ("ec", ""),
    "salts": ("ec", ""),
    "moisture": ("moisture_pct", ""),
    "moisturecontent": ("moisture_pct", ""),
    "drymatter": ("dry", ""),
    "dm": ("dry", ""),
    "totalsolids": ("dry", ""),
    "solids": ("dry", ""),
    "bulkdensity": ("density", ""),
    "density": ("density", ""),
    "cce": ("cce", ""),
    "caco3": ("cce", ""),
    "carbonate": ("cce", ""),
    "calciumcarbonate": ("cce", ""),
    "neutralisingvalue": ("cce", ""),
    "cn": ("", "derived"),
    "ctonratio": ("", "derived"),
    "cnratio": ("", "derived"),
}
# To mg/kg, where a weight in a weight is meant.
WEIGHTS = {
    "%": 1e4,
    "g/100g": 1e4,
    "g/kg": 1e3,
    "mg/kg": 1.0,
    "ppm": 1.0,
    "ug/g": 1.0,
    "lb/ton": 500.0,
    "lb/acre": PPM_IN_LB_ACRE,
    "lb/ac": PPM_IN_LB_ACRE,
    "lbs/acre": PPM_IN_LB_ACRE,
    "lb/a": PPM_IN_LB_ACRE,
    "lbs/a": PPM_IN_LB_ACRE,
    "lbs/ac": PPM_IN_LB_ACRE,
    "lb/ac.": PPM_IN_LB_ACRE,
    "lbs/ac.": PPM_IN_LB_ACRE,
}
EQUIVALENTS = ("meq/100g", "cmol/kg", "cmolc/kg", "cmol(+)/kg")
CAPACITIES = frozenset(["cec", "cationexchangecapacity", "exchangecapacity", "ecec", "tec"])
EXTRACTS = {"mg/l": 1.0, "ppm": 1.0, "g/l": 1e3}
CONDUCTIVITIES = {"ds/m": 1.0, "ms/cm": 1.0, "mmho/cm": 1.0, "mmhos/cm": 1.0, "us/cm": 1e-3}
DENSITIES = {
    "kg/l": 1.0,
    "g/ml": 1.0,
    "g/cm3": 1.0,
    "g/cc": 1.0,
    "g/l": 1e-3,
    "kg/m3": 1e-3,
    "lb/yd3": KILOGRAMS_IN_LB_YD3 / 1e3,
}
VALENCE = {"K": 1, "Na": 1, "Ca": 2, "Mg": 2}
ION = {"NH4": 18.039, "NO3": 62.004}


def key_of(name: str) -> str:
    """Return a laboratory's name for something without signs, spaces and brackets."""
    return re.sub(r"[^a-z0-9]", "", re.sub(r"\([^)]*\)", "", name.lower()))
