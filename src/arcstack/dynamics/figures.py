"""Where each figure of a run stands in what the step loop returns."""

MAX_LIFT, PEAK_CONTACT, MIN_CONTACT, SEPARATION, SEPARATION_AT = 0, 1, 2, 3, 4
SEATING, BOUNCE, SWING, LOAD_LOST, CLASH, ENERGY_START, ENERGY_END, CAM_WORK = 5, 6, 7, 8, 9, 10, 11, 12
FIGURES = 13
