"""The engine around the valvetrain: oil, crankcase, clamping, compression, events."""

from flask import Blueprint

from arcstack.web.kit.stage import OUTPUTS, Group, Stage, under

STAGE = Stage(
    "turbo",
    "Turbo side",
    75,
    (
        Group(
            "Crankcase",
            under("turbo", "crankcase", "crankcase_before", "breathers", "breather_hole", "separator", "weeps"),
        ),
        Group(
            "Oil",
            under(
                "turbo", "oil_idle", "oil_limit", "feed_hole", "drains", "drain_hole", "standpipes", "spray_holes",
                "spray_hole", "spray_mesh",
                "bearing", "restrictor", "turbo_drain",
            ),
        ),
        Group(
            "Back pressure and exhaust",
            (
                "brief.boost", "brief.back_pressure", "brief.pulse_peak",
                *under("turbo", "exhaust_drop", "narrowest", "narrowest_at"),
            ),
            help="Measured, mean and peak drive both gas rules and stop being assumed.",
        ),
        Group(
            "Head clamping",
            under(
                "turbo", "stud", "stud_diameter", "stud_area", "stud_proof", "torque", "lubricant", "nut_factor",
                "preload", "stud_stretch", "stud_length", "gasket_kind", "coolant",
                "studs_around", "studs_shared", "gasket_bore", "peak_pressure",
            ),
            help="The lubricant is part of the torque: the same wrench on dry threads holds a third less.",
        ),
        Group(
            "Port, gasket, manifold",
            under(
                "port", "mouth_width", "mouth_height", "gasket_width", "gasket_height", "gasket_across", "gasket_up",
                "manifold_width", "manifold_height", "manifold_across", "manifold_up",
            ),
            help="At their mouths. A smaller opening upstream is harmless; a larger one leaves an edge.",
        ),
        Group("Compression", under("turbo", "chamber", "dish", "compression_target")),
        Group(
            "At the limiter, since the last inspection",
            under("turbo", "limiter_soft", "limiter_staged", "limiter_hard", "launch", "missed_shifts"),
        ),
        Group("Good to", under("turbo", "rods_to", "crank_to", "pump_to")),
    ),
    (
        ("turbo.clearance_volume", "Compression"),
        ("turbo.ratio", "Compression"),
        ("turbo.preload", "Clamping"),
        ("turbo.clamp", "Clamping"),
        ("turbo.life", "Limiter"),
    ),
    swaps=(OUTPUTS,),
    blueprint=Blueprint("turbo", __name__, template_folder="templates"),
)  # fmt: skip
