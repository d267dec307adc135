"""What is done in a ropeway company: the jobs of which the demo's work orders are made."""

from __future__ import annotations

Step = tuple[str, float, str, str]
"""What is done, its hours, the state of the asset, whom it needs."""
JOBS: tuple[tuple[str, str, tuple[str, ...], tuple[Step, ...]], ...] = (
    (
        "Replace sheave bearing",
        "corrective",
        ("towers",),
        (
            ("Set up access", 1.0, "stopped", "rig x1 level 2 with height"),
            ("Exchange bearing", 3.0, "stopped", "mech x2 level 2"),
            ("Test run", 0.5, "running", "mech x1 level 2"),
        ),
    ),
    (
        "Brake test, service and safety brake",
        "statutory",
        ("drive", "winch"),
        (
            ("Static test", 1.5, "stopped", "mech x1 level 2 with brake; ctrl x1"),
            ("Dynamic test", 1.0, "running", "mech x1 level 2 with brake; ctrl x1"),
        ),
    ),
    (
        "Haul rope inspection, magnetic",
        "statutory",
        ("towers", "track"),
        (
            ("Fit test head", 0.5, "stopped", "mech x2 level 2 with rope"),
            ("Run rope through", 3.0, "running", "mech x1 level 2 with rope; hand x1"),
        ),
    ),
    (
        "Rope lubrication",
        "preventive",
        ("towers", "track"),
        (("Lubricate at creep speed", 2.5, "running", "mech x1; hand x1"),),
    ),
    (
        "Grip service, batch of 12",
        "preventive",
        ("cabins",),
        (
            ("Strip and clean", 3.0, "any", "mech x1"),
            ("Measure springs", 1.5, "any", "mech x1 level 2"),
            ("Assemble and test", 2.5, "any", "mech x2"),
        ),
    ),
    (
        "Gearbox oil change",
        "preventive",
        ("drive", "winch"),
        (
            ("Drain and flush", 2.0, "stopped", "mech x1; hand x1"),
            ("Fill and sample", 1.0, "stopped", "mech x1"),
        ),
    ),
    (
        "Slip ring inspection",
        "preventive",
        ("drive", "winch"),
        (("Inspect and clean", 2.0, "stopped", "elec x1 level 2"),),
    ),
    (
        "Drive motor insulation test",
        "preventive",
        ("drive", "winch", "pump"),
        (
            ("Isolate", 0.5, "stopped", "elec x1 level 2 with hv"),
            ("Measure", 1.0, "stopped", "elec x1 level 2"),
            ("Put back", 0.5, "stopped", "elec x1 level 2 with hv"),
        ),
    ),
    (
        "Tower lighting repair",
        "corrective",
        ("towers",),
        (("Repair fitting", 1.5, "stopped", "elec x1; rig x1 with height"),),
    ),
    (
        "Controller battery exchange",
        "preventive",
        ("drive", "return", "winch"),
        (("Exchange and test", 1.0, "stopped", "ctrl x1"),),
    ),
    (
        "Position sensor drifts",
        "corrective",
        ("drive", "return", "track"),
        (
            ("Find fault", 1.5, "stopped", "ctrl x1 level 2"),
            ("Replace and teach", 1.0, "stopped", "ctrl x1 level 2"),
        ),
    ),
    (
        "Door closing force check",
        "statutory",
        ("cabins", "cars"),
        (("Measure all doors", 4.0, "any", "mech x1; ctrl x1"),),
    ),
    (
        "Hydraulic tension unit leaks",
        "corrective",
        ("return", "drive"),
        (
            ("Exchange seal kit", 3.0, "stopped", "hyd x1 level 2"),
            ("Bleed and set", 1.0, "stopped", "hyd x1 level 2"),
        ),
    ),
    (
        "Hydraulic hose exchange",
        "preventive",
        ("return", "vehicle", "winch"),
        (("Exchange hoses", 2.5, "stopped", "hyd x1"),),
    ),
    ("Snow gun heater fault", "corrective", ("gun",), (("Repair heater", 2.0, "any", "elec x1"),)),
    (
        "Snow gun overhaul",
        "preventive",
        ("gun",),
        (
            ("Strip nozzles", 2.0, "any", "hand x1"),
            ("Valve block", 2.0, "any", "hyd x1"),
            ("Test under pressure", 1.0, "any", "hyd x1; elec x1"),
        ),
    ),
    (
        "Pump vibration high",
        "corrective",
        ("pump",),
        (
            ("Measure", 1.0, "running", "mech x1 level 2"),
            ("Align coupling", 3.0, "stopped", "mech x2 level 2"),
        ),
    ),
    (
        "Pump seal exchange",
        "corrective",
        ("pump", "outlet"),
        (
            ("Lift out", 2.0, "stopped", "mech x2"),
            ("Exchange seal", 2.0, "stopped", "mech x1 level 2"),
            ("Put back", 2.0, "stopped", "mech x2"),
        ),
    ),
    (
        "Piste vehicle 500 h service",
        "preventive",
        ("vehicle",),
        (("Oils and filters", 3.0, "any", "veh x1"), ("Tracks and rollers", 3.0, "any", "veh x1 level 2")),
    ),
    ("Track link worn", "corrective", ("vehicle",), (("Exchange links", 4.0, "any", "veh x2"),)),
    (
        "Tiller bearing noisy",
        "corrective",
        ("vehicle",),
        (("Exchange bearing", 3.5, "any", "veh x1 level 2"),),
    ),
    (
        "Weld crack in platform frame",
        "safety",
        ("return", "drive", "towers"),
        (
            ("Grind and inspect", 1.0, "stopped", "weld x1 level 2"),
            ("Weld", 2.5, "stopped", "weld x1 level 2"),
            ("Test for cracks", 1.0, "stopped", "weld x1 level 3"),
        ),
    ),
    (
        "Handrail repair",
        "safety",
        ("towers", "return", "terminal", "reservoir"),
        (("Weld and paint", 2.5, "any", "weld x1; hand x1"),),
    ),
    (
        "Evacuation equipment check",
        "statutory",
        ("towers", "cabins"),
        (("Check ropes and seats", 3.0, "any", "rig x1 level 2 with height"),),
    ),
    (
        "Lightning protection survey",
        "statutory",
        ("terminal", "towers", "house"),
        (("Measure earth", 2.0, "any", "elec x1 level 2"),),
    ),
    (
        "Cable tray covers loose",
        "corrective",
        ("towers", "terminal", "track"),
        (("Fasten covers", 2.0, "any", "hand x1; elec x1"),),
    ),
    (
        "LED retrofit",
        "improvement",
        ("terminal", "Workshop", "house"),
        (("Exchange lamps", 6.0, "any", "elec x1; hand x1"),),
    ),
    (
        "Paint station steelwork",
        "improvement",
        ("return", "terminal"),
        (("Prepare", 7.0, "any", "hand x2"), ("Paint", 7.0, "any", "hand x2")),
    ),
    (
        "Software update, line control",
        "project",
        ("drive", "winch"),
        (("Back up", 0.5, "any", "ctrl x1"), ("Load and test", 2.5, "stopped", "ctrl x1 level 3")),
    ),
    (
        "Switch gear inspection",
        "statutory",
        ("switch",),
        (
            ("Isolate ring", 1.0, "stopped", "elec x1 level 2 with hv"),
            ("Inspect", 3.0, "stopped", "elec x2 level 2"),
            ("Put back", 1.0, "stopped", "elec x1 level 2 with hv"),
        ),
    ),
    ("Crane inspection", "statutory", ("crane",), (("Load test", 2.5, "any", "mech x1 level 2; hand x1"),)),
    (
        "Valve actuator sluggish",
        "corrective",
        ("outlet", "pump"),
        (("Overhaul actuator", 2.5, "any", "hyd x1; ctrl x1"),),
    ),
    (
        "Chair inspection, non-destructive",
        "statutory",
        ("towers",),
        (
            ("Take chairs off", 2.0, "stopped", "mech x2"),
            ("Test welds", 5.0, "any", "weld x1 level 2"),
            ("Put chairs on", 2.0, "stopped", "mech x2"),
        ),
    ),
    (
        "Drive overhaul",
        "project",
        ("drive",),
        (
            ("Lift motor", 3.0, "stopped", "mech x2 level 2; rig x1"),
            ("Inspect bearings", 4.0, "stopped", "mech x1 level 3"),
            ("Brake callipers", 4.0, "stopped", "hyd x1 level 2"),
            ("Clean slip rings", 2.0, "stopped", "elec x1"),
            ("Cabling", 3.0, "stopped", "elec x1 level 2"),
            ("Put motor back", 3.0, "stopped", "mech x2 level 2; rig x1"),
            ("Align", 2.0, "stopped", "mech x1 level 3"),
            ("Trial run", 1.5, "running", "mech x1 level 2; ctrl x1"),
        ),
    ),
    (
        "Tail pulley lining",
        "corrective",
        ("return",),
        (("Exchange lining", 5.0, "stopped", "mech x2; hand x1"),),
    ),
    (
        "Noise from line roller",
        "corrective",
        ("towers", "track"),
        (("Find and exchange", 2.5, "stopped", "mech x1 level 2; rig x1"),),
    ),
)
"""Of each job its title, kind, where it is done (words of an asset's name), and its steps."""

PUT_BACK = ("Drive overhaul",)
"""Jobs that take several nights, and whose asset runs again every morning."""
