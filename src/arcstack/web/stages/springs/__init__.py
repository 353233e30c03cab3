"""Springs in full, packs side by side, heights, stress, surge."""

from arcstack.web.kit.stage import OUTPUTS, Group, Stage, Swap, under
from arcstack.web.stages.springs.fields import SPRING_IN_FULL
from arcstack.web.stages.springs.page import blueprint
from arcstack.web.stages.springs.view import content

STAGE = Stage(
    "springs",
    "Springs",
    40,
    (
        Group("Pack", under("stack", "name", "pack", "damping", "friction", "damper_thickness", "price")),
        Group("Outer spring", under("stack.outer", *SPRING_IN_FULL)),
        Group("Inner spring", under("stack.inner", *SPRING_IN_FULL)),
    ),
    (
        ("spring.seat_load", "Load"),
        ("spring.open_load", "Load"),
        ("spring.seat_settled", "Load"),
        ("spring.open_settled", "Load"),
        ("spring.rate", "Load"),
        ("spring.stress.seat_outer", "Stress and life"),
        ("spring.stress.outer", "Stress and life"),
        ("spring.fatigue.outer", "Stress and life"),
        ("spring.stress.seat_inner", "Stress and life"),
        ("spring.stress.inner", "Stress and life"),
        ("spring.fatigue.inner", "Stress and life"),
        ("spring.nest_gap", "Stress and life"),
        ("spring.surge.outer", "Surge"),
        ("spring.surge.inner", "Surge"),
        ("spring.surge_order", "Surge"),
        ("spring.friction", "Surge"),
    ),
    under="stack",
    show=content,
    swaps=(
        OUTPUTS,
        Swap("chart", "springs/_load.html"),
        Swap("compare", "springs/_compare.html"),
        Swap("height", "springs/_height.html"),
        Swap("stress", "springs/_stress.html"),
        Swap("surge", "springs/_surge.html"),
    ),
    also=("candidates.",),
    blueprint=blueprint,
)
