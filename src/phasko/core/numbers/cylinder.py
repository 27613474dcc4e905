"""Numbers of where pistons and valves stand, by the crank's speed and by the pressure in a cylinder."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = [
    "AREA_UNUSUAL",
    "CHARGE_EXPANDED_K",
    "CHARGE_K",
    "CHARGE_SQUEEZED_K",
    "CLEARANCE_SD",
    "CLEARANCE_TOLD",
    "CLOSED_MISFIT_MOST",
    "CLOSED_NEAR_DEG",
    "CLOSED_REACH_DEG",
    "CORNER_FAR_DEG",
    "CORNER_MISFIT_MOST",
    "CORNER_REACH_DEG",
    "CORNER_SHARED_SD_DEG",
    "CORNER_STILL_DEG",
    "CORNER_STILL_SD_DEG",
    "CORNER_TRAVEL_LEAST_DEG",
    "CORNER_U95_MOST_DEG",
    "CORNER_U95_SHARE",
    "CRANKED_HEAT_FACTOR",
    "CREVICE_FACTOR",
    "EXHAUST_CRANKING_K",
    "EXHAUST_RUNNING_K",
    "EXHAUST_TOP_MOST_BAR",
    "EXHAUST_TOP_RUNNING_MOST_BAR",
    "EXHAUST_VALVE_SHARE",
    "FIRES_RATIO",
    "FLOW_COEFFICIENT",
    "HAND_CORNER_SD_DEG",
    "HEAT_SD",
    "HOSE_CM3",
    "HOSE_LAG_S",
    "INDEX_BY_CURRENT_U95_MOST_DEG",
    "INDEX_SHARED_SHARE",
    "INDEX_TRUE_DEG",
    "INDEX_U95_MOST_DEG",
    "INTAKE_STROKE_LEAST_BAR",
    "INTAKE_VALVE_SHARE",
    "LEAK_TOLD_FACTOR",
    "LEVEL_LOW_SD",
    "LEVEL_OWN_SD",
    "LEVEL_SHARED_SD",
    "LEVEL_SOUND_SHARE",
    "LOBE_BUILD_SD_DEG",
    "LOBE_PLACE_SHARE",
    "LOSS_ANGLE_DEG",
    "LOSS_ANGLE_SD_DEG",
    "MANIFOLD_ALONE_TIMES",
    "MANIFOLD_BENDS_PA",
    "MANIFOLD_BENDS_SHARE",
    "MANIFOLD_CALM_PA",
    "MANIFOLD_PLACE_DEG",
    "OTHER_TIMING_SD_DEG",
    "OVERLAP_SD_DEG",
    "OVERLAP_SHOWS_BAR",
    "PACED_SD_DEG",
    "PACED_SWING_SD_DEG",
    "PEAK_LIFT_MM",
    "PEAK_OWN_U95_BAR",
    "PISTONS_DISAGREE_DEG",
    "PRESSURE_CLIPPED_S",
    "PRESSURE_CYCLES_LEAST",
    "PRESSURE_DEAD_BAR",
    "PRESSURE_FLAT_BAR",
    "PRESSURE_MOST_BAR",
    "PRESSURE_STEP_BAR",
    "REFERENCE_TOLD_BAR",
    "REST_LEAST_S",
    "REST_MARGIN_S",
    "STARTER_LAG_S",
    "STARTER_LAG_SD_S",
    "TDC_CURRENT_SD_DEG",
    "TDC_EXPLAINED_LEAST",
    "TDC_LAW_SD_DEG",
    "TDC_LOSS_SHARE",
    "TDC_LOW_SD_DEG",
    "TDC_MISFIT_SD_DEG",
    "TDC_REACH_DEG",
    "TDC_STARTER_SD_DEG",
    "TDC_TEETH_SD_DEG",
    "TDC_WAVES_LEAST",
    "TIMING_SD_DEG",
    "TIMING_UNKNOWN_SD_DEG",
    "TRANSDUCER_LAG_S",
    "TRANSDUCER_SCALE_SHARE",
    "TRANSDUCER_ZERO_BAR",
    "TRAPPED_AFTER_DEG",
    "USUAL_LEAK_MM2",
    "VALVE_AREA_SD",
    "WALL_COLD_K",
    "WALL_HOT_K",
    "WORN_LOBE_DEG",
    "WORN_LOBE_SD_DEG",
    "WORN_LOBE_SHARE",
    "ZERO_BY_REST_SD_BAR",
    "ZERO_SD_BAR",
]

# --- top dead centre by the crank's speed -----------------------------------------------------------------------------
LOSS_ANGLE_DEG = Entry(
    0.5, "deg", "What usual leak and heat leave of a sound cylinder's loss angle", "(cp) rings differ"
)
LOSS_ANGLE_SD_DEG = Entry(0.8, "deg", "How engines differ in their loss angle", "(cp) one to three degrees in all")
STARTER_LAG_S = Entry(0.012, "s", "By how much a starter's torque follows its speed later", "(cp) inductance over ohms")
STARTER_LAG_SD_S = Entry(0.004, "s", "How starters differ in that", "(cp)")
TDC_CURRENT_SD_DEG = Entry(2.5, "deg", "What a starter's own law and loss leave beside it", "(house) bench")
TDC_EXPLAINED_LEAST = Entry(0.945, "of variance", "A speed less explained tells no piston", "(house)")
TDC_REACH_DEG = Entry(60.0, "deg", "Wheels are looked for so far from their place", "(house)")
TDC_WAVES_LEAST = Entry(1.5, "per firing", "Fewer waves that the teeth carry tell no piston", "(house)")
TDC_STARTER_SD_DEG = Entry(0.4, "deg", "What not seeing the starter's current adds", "(house) bench")
TDC_LOW_SD_DEG = Entry(0.8, "deg", "What a low cylinder, or none with a name, adds", "(house) bench")
TDC_TEETH_SD_DEG = Entry(6.0, "deg", "What coarse wheels add, over their teeth per firing", "(house) bench")
TDC_MISFIT_SD_DEG = Entry(8.0, "deg", "What is left unexplained, times its root", "(house) bench")
INDEX_BY_CURRENT_U95_MOST_DEG = Entry(14.0, "deg", "By the current alone they are told so widely", "(house)")
INDEX_U95_MOST_DEG = Entry(8.0, "deg", "Pistons known less well than this are not known", "(house) half a pitch")
INDEX_TRUE_DEG = Entry(2.0, "deg", "A wheel this near its place counts as true", "(house) build spread")
INDEX_SHARED_SHARE = Entry(0.9, "", "What captures of one engine share of the doubt about its pistons", "(house) loss")

# --- the pressure in a cylinder ---------------------------------------------------------------------------------------
PRESSURE_CYCLES_LEAST = Entry(1.0, "cycles", "Fewer steady ones of a pressure are not read", "(house)")
REST_MARGIN_S = Entry(0.03, "s", "Rest ends so long before the first tooth", "(house)")
REST_LEAST_S = Entry(0.08, "s", "Shorter rest says nothing of a transducer's zero", "(house) a mains period or more")
TRANSDUCER_ZERO_BAR = Entry(0.05, "bar", "A zero no further off is taken off; a further one is told", "(cp)")
ZERO_BY_REST_SD_BAR = Entry(0.0015, "bar", "A zero that was read at rest", "(house) noise and drift")
ZERO_SD_BAR = Entry(0.008, "bar", "A zero that nothing tells", "(cp) pressed to zero before the capture")
TRANSDUCER_SCALE_SHARE = Entry(0.01, "of range", "Accuracy of a transducer", "(cp) about 1 % of range")
TRANSDUCER_LAG_S = Entry(1e-4, "s", "Usual response of a transducer", "(cp) about 0.1 ms")
HOSE_LAG_S = Entry(0.5e-3, "s", "What a tester hose adds to that, give or take as much", "(cp) half a millisecond")
HOSE_CM3 = Entry(4.0, "cm3", "Volume of a tester hose of which nothing is said", "(cp)")
PEAK_OWN_U95_BAR = Entry(0.05, "bar", "What noise and cycles leave of a peak", "(house) bench")
PRESSURE_STEP_BAR = Entry(0.03, "bar", "Coarser steps allow no corners", "contract")
PRESSURE_DEAD_BAR = Entry(1.5, "bar", "A lower peak is none: nothing else is read", "(cp)")
FIRES_RATIO = Entry(1.3, "", "Pressure 80 degrees behind the peak over that before it, in one that burns", "(cp)")
CLOSED_REACH_DEG = Entry(75.0, "deg", "Valves are shut so far about TDC, cams two pitches off", "(house)")
CLOSED_NEAR_DEG = Entry(45.0, "deg", "So far they are with cams three pitches late too", "(house)")
CLOSED_MISFIT_MOST = Entry(4.0, "sd", "A pressure that fits shut valves worse is not read further", "(house) bench")
WALL_HOT_K = Entry(355.0, "K", "Walls of a warm engine", "(cp) 80 to 90 degrees C")
WALL_COLD_K = Entry(298.0, "K", "Walls of a cold engine", "(cp)")
CHARGE_K = Entry(297.0, "K", "Charge in the manifold", "(cp) 20 to 25 degrees C")
CHARGE_SQUEEZED_K = Entry(335.0, "K", "Charge 75 degrees before TDC", "(house) adiabatic from the manifold")
CHARGE_EXPANDED_K = Entry(320.0, "K", "Charge 55 degrees behind TDC", "(house) bench")
EXHAUST_CRANKING_K = Entry(330.0, "K", "Gas in the exhaust while cranking", "(cp)")
EXHAUST_RUNNING_K = Entry(600.0, "K", "Gas in the exhaust while others fire", "(cp)")
CRANKED_HEAT_FACTOR = Entry(40.0, "", "Factor of Hohenberg's law without flame and swirl", "(house) a third of his 130")
HEAT_SD = Entry(0.5, "of its ln", "How heat differs from that", "(house)")
CREVICE_FACTOR = Entry(1.1, "of geometry", "Clearance with crevices and adapter", "(house)")
CLEARANCE_SD = Entry(0.06, "of its ln", "How that differs", "(house)")
USUAL_LEAK_MM2 = Entry(0.7, "mm2", "Leak of sound rings while cranking", "(cp) leaves 80 to 90 % of the tight peak")
HAND_CORNER_SD_DEG = Entry(3.0, "deg", "How well an eye sets a corner", "(cp)")
LEAK_TOLD_FACTOR = Entry(1.8, "of usual", "A low cylinder with this leak leaks", "(house) bench")
CLEARANCE_TOLD = Entry(1.2, "of geometry", "A low cylinder with this clearance is tight and squeezes less", "(house)")
EXHAUST_TOP_MOST_BAR = Entry(0.03, "bar", "Pulses in a free exhaust while cranking", "(cp)")
EXHAUST_TOP_RUNNING_MOST_BAR = Entry(0.07, "bar", "Pulses in a free exhaust at idle", "(cp)")
INTAKE_STROKE_LEAST_BAR = Entry(-0.06, "bar", "Intake stroke of a cranked engine whose throttle is open", "(cp)")
TDC_LAW_SD_DEG = Entry(0.2, "deg", "What laws of heat and leak leave open of TDC", "(house) other laws tried")
TDC_LOSS_SHARE = Entry(0.05, "of loss angle", "What they leave open more, the more is lost", "(house)")
PEAK_LIFT_MM = Entry(9.0, "mm", "Usual full lift", "(cp)")
FLOW_COEFFICIENT = Entry(0.65, "", "Of a poppet valve", "Heywood 1988, section 6.3.2; from memory")
INTAKE_VALVE_SHARE = Entry(0.38, "of bore", "Usual head of one of two intake valves", "(cp)")
EXHAUST_VALVE_SHARE = Entry(0.33, "of bore", "Usual head of one of two exhaust valves", "(cp)")
VALVE_AREA_SD = Entry(0.3, "of its ln", "How flow areas differ from that", "(cp)")
AREA_UNUSUAL = Entry(0.65, "of its ln", "Valves that open by less or more than that are no usual ones", "(house)")
LOBE_PLACE_SHARE = Entry(0.15, "", "What such a valve leaves open of where it passes its lift", "(house) bench")
CORNER_SHARED_SD_DEG = Entry(1.6, "deg", "What lobes, valves and gas leave open of all corners alike", "(house)")
CORNER_MISFIT_MOST = Entry(2.2, "sd", "A pressure that fits a moving valve worse shows no corner", "(house) bench")
CORNER_FAR_DEG = Entry(14.0, "deg", "Closings this late are looked for along a longer stretch", "(house)")
CORNER_REACH_DEG = Entry(65.0, "deg", "Corners are looked for so far from their place", "(house)")
CORNER_STILL_DEG = Entry(552.0, "deg", "Before this angle the piston hardly moves", "(house) bottom dead centre at 540")
CORNER_STILL_SD_DEG = Entry(5.5, "deg", "How well a valve that closes there is placed", "(house) bench")
CORNER_TRAVEL_LEAST_DEG = Entry(8.0, "deg", "A corner that moves by less in a sweep is not said to", "(house)")
CORNER_U95_MOST_DEG = Entry(8.0, "deg", "A corner known less well is not known", "(house) half a pitch")
CORNER_U95_SHARE = Entry(0.5, "", "A corner so well known against what it is out by is known", "(house) two to one")
MANIFOLD_BENDS_PA = Entry(300.0, "Pa", "Swing of an open manifold beside its slope, over 100 degrees", "(house) bench")
MANIFOLD_BENDS_SHARE = Entry(0.1, "", "What it swings more, of what a throttle holds back", "(house) bench")
MANIFOLD_CALM_PA = Entry(
    8000.0, "Pa", "Further under the outside a manifold's swing looks like a narrow valve", "(house)"
)
MANIFOLD_ALONE_TIMES = Entry(2.0, "", "How much more where no two cylinders draw at once", "(house) bench")
MANIFOLD_PLACE_DEG = Entry(6.0, "deg", "What a throttled manifold leaves of a closing, over the cylinders", "(house)")
TRAPPED_AFTER_DEG = Entry(8.0, "deg", "The charge is trapped so far behind the corner", "(house) bench")
PACED_SD_DEG = Entry(1.5, "deg", "What a pace by compression peaks leaves of angles", "(house) bench")
PACED_SWING_SD_DEG = Entry(3.0, "deg", "What it leaves more, times the swing of the energy", "(house) bench")
PRESSURE_FLAT_BAR = Entry(0.15, "bar", "A pressure that swings less shows no cylinder", "(cp)")
PRESSURE_MOST_BAR = Entry(60.0, "bar", "No cranked or idling cylinder reaches more", "(cp) diesels 20 to 40")
PRESSURE_CLIPPED_S = Entry(0.002, "s", "Tops that stand at one value for longer are cut off", "(house)")
REFERENCE_TOLD_BAR = Entry(0.25, "bar", "Open air reads this near 0 or 1 bar", "(cp) heights up to 2000 m")
PISTONS_DISAGREE_DEG = Entry(4.0, "deg", "Two cylinders whose TDC lies further apart contradict each other", "(house)")

# --- corners and levels in the call -----------------------------------------------------------------------------------
TIMING_SD_DEG = Entry(1.2, "deg", "What a profile's valve timing leaves open", "(cp) lift at which it is given")
TIMING_UNKNOWN_SD_DEG = Entry(12.0, "deg", "What a usual engine's valve timing leaves open of another", "(cp)")
LOBE_BUILD_SD_DEG = Entry(0.8, "deg", "How valves of one cam differ by clearance and build", "(cp)")
OTHER_TIMING_SD_DEG = Entry(8.0, "deg", "Valve timing of another engine", "(cp)")
WORN_LOBE_DEG = Entry(16.0, "deg", "By how much a worn lobe opens late and closes early", "(cp)")
WORN_LOBE_SD_DEG = Entry(7.0, "deg", "How worn lobes differ in that", "(cp)")
WORN_LOBE_SHARE = Entry(0.4, "", "Valve train faults that are a lobe or clearance, not a valve that stands", "(cp)")
LEVEL_SHARED_SD = Entry(0.07, "of its ln", "How engines' peaks differ from the expected ones", "(house) bench")
LEVEL_OWN_SD = Entry(0.03, "of its ln", "How cylinders of one engine do", "(house) bench")
OVERLAP_SD_DEG = Entry(25.0, "deg", "How far cams may be out before their overlap was looked at", "(house)")
OVERLAP_SHOWS_BAR = Entry(0.06, "bar", "Pressure between exhaust and intake that shows shut valves", "(house) bench")
LEVEL_LOW_SD = Entry(0.25, "of its ln", "What a leak costs depends on speed, the more the larger", "(house)")
LEVEL_SOUND_SHARE = Entry(0.85, "of expected", "A cylinder that reaches this seals", "(cp)")
