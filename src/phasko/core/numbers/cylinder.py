"""Numbers of where pistons and valves stand, by the crank's speed and by the pressure in a cylinder."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = [
    "INDEX_SHARED_SHARE",
    "INDEX_TRUE_DEG",
    "INDEX_U95_MOST_DEG",
    "LOSS_ANGLE_DEG",
    "LOSS_ANGLE_SD_DEG",
    "SOUND_LEAK_LEFT",
    "STARTER_LAG_S",
    "TDC_EXPLAINED_LEAST",
    "TDC_LOW_SD_DEG",
    "TDC_MISFIT_SD_DEG",
    "TDC_REACH_DEG",
    "TDC_STARTER_SD_DEG",
    "TDC_TEETH_SD_DEG",
    "TDC_WAVES_LEAST",
]

# --- top dead centre by the crank's speed -----------------------------------------------------------------------------
SOUND_LEAK_LEFT = Entry(
    0.8, "of tight", "What a sound cylinder's rings leave of its peak while cranking", "(cp) blow-by"
)
LOSS_ANGLE_DEG = Entry(0.8, "deg", "What heat adds to the loss angle of a sound cylinder's leak", "(cp) about a degree")
LOSS_ANGLE_SD_DEG = Entry(0.8, "deg", "How engines differ in their loss angle", "(cp) one to three degrees in all")
STARTER_LAG_S = Entry(0.012, "s", "By how much a starter's torque follows its speed later", "(cp) inductance over ohms")
TDC_EXPLAINED_LEAST = Entry(0.945, "of variance", "A speed less explained tells no piston", "(house)")
TDC_REACH_DEG = Entry(60.0, "deg", "Wheels are looked for so far from their place", "(house)")
TDC_WAVES_LEAST = Entry(1.0, "per firing", "Fewer waves that the teeth carry tell no piston", "(house)")
TDC_STARTER_SD_DEG = Entry(0.7, "deg", "What not seeing the starter's current adds", "(house) bench")
TDC_LOW_SD_DEG = Entry(1.3, "deg", "What a low cylinder, or none with a name, adds", "(house) bench")
TDC_TEETH_SD_DEG = Entry(6.0, "deg", "What coarse wheels add, over their teeth per firing", "(house) bench")
TDC_MISFIT_SD_DEG = Entry(8.0, "deg", "What is left unexplained, times its root", "(house) bench")
INDEX_U95_MOST_DEG = Entry(8.0, "deg", "Pistons known less well than this are not known", "(house) half a pitch")
INDEX_TRUE_DEG = Entry(2.0, "deg", "A wheel this near its place counts as true", "(house) build spread")
INDEX_SHARED_SHARE = Entry(0.9, "", "What captures of one engine share of the doubt about its pistons", "(house) loss")
