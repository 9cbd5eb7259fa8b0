"""What to do while a heap cures: damp, turn, probe, test, on which day."""

from dataclasses import dataclass

from pelk.core.base.sources import cites
from pelk.core.release.rate_factors import decay_by_temperature
from pelk.core.simulation.readiness import DAYS_RUNNING, Readiness


@dataclass(frozen=True, slots=True)
class Task:
    """One thing to do: the day, what, and what to write down."""

    day: int
    text: str
    record: str = ""


@cites("pelk", "task list by common practice, stretched in the cold")
def schedule(ready: Readiness, temperature_c: float, inoculum: float) -> list[Task]:
    """Return what to do on which day of a cure.

    Parameters
    ----------
    ready : Readiness
        When it is expected.
    temperature_c : float
        Air. [°C]
    inoculum : float
        Live material by share of volume. [-]

    Returns
    -------
    list of Task
        By day since mixing.
    """
    pace = max(float(decay_by_temperature(temperature_c)), 0.33)
    end = ready.p90 or ready.p50 or ready.days
    check = max(int(ready.floor_days), ready.p10 or ready.p50 or end)

    def slow(day: int) -> int:
        return max(round(day / pace), day) if pace < 1 else day

    tasks = [
        Task(
            -1,
            "Damp dry peat or coir; weigh the doses; stir doses under 3 g/L into "
            "ten times their volume of sand or castings.",
        ),
        Task(
            0,
            "Three turns for the parts, dust the doses over, three more turns; wet "
            "to a wrung-out sponge."
            + (
                " Work in 5 to 10 % live compost: this mix has little life."
                if inoculum < 0.05
                else ""
            ),
            "pH, EC, °C, weight of a bucket",
        ),
        Task(1, "Squeeze it; top up with 0.05 L a litre if it is dry.", "squeeze"),
        Task(
            slow(3),
            "Turn, smell, probe. Turn every third day while it is 10 °C over the air.",
            "°C, smell",
        ),
        Task(
            slow(7),
            "Turn. If you smell ammonia, add no lime or ash, and wait.",
            "°C, pH, ammonium strip",
        ),
        Task(slow(14), "Turn.", "°C, pH, EC, ammonium strip"),
    ]
    day = slow(14) + 7
    while day < check:
        turns = (day - slow(14)) % (2 * 7) == 0
        tasks.append(
            Task(
                day,
                "Read it and weigh a bucket; water it if it has lost a seventh."
                + (" Turn." if turns else ""),
                "°C, pH",
            )
        )
        day += 7
    tasks += [
        Task(check, "First check of everything; sow the sprout test.", "everything"),
        Task(
            check + DAYS_RUNNING,
            "Second check. If everything passes twice, it is ready.",
            "everything, sprouts",
        ),
    ]
    if ready.p90:
        tasks.append(
            Task(ready.p90 + 14, "If still not ready, dilute it one to one with unfed mix.")
        )
    return sorted(tasks, key=lambda t: t.day)
