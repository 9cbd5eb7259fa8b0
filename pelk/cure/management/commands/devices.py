"""``manage.py devices``: a pen and a hanging scale to try, on local sockets."""

from threading import Thread
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from pelk.cure.devices.standins import DeviceServer, Pen, Scale


class Command(BaseCommand):
    """Serves a pen and a scale until it is stopped."""

    help = "Serve a simulated pen and a hanging scale (docs/devices.md)."

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the ports, and how full the batteries are."""
        parser.add_argument("--pen-port", type=int, default=8765)
        parser.add_argument("--scale-port", type=int, default=8766)
        parser.add_argument("--battery", type=float, default=1.0)
        parser.add_argument("--seed", type=int, default=1)

    def handle(self, *args: Any, **options: Any) -> None:
        """Serve both."""
        seed, battery = options["seed"], options["battery"]
        with (
            DeviceServer(Pen(seed, battery), options["pen_port"]) as pen,
            DeviceServer(Scale(seed, battery), options["scale_port"]) as scale,
        ):
            Thread(target=scale.serve_forever, daemon=True).start()
            self.stdout.write(
                f"Pen at 127.0.0.1:{options['pen_port']}, scale at "
                f"127.0.0.1:{options['scale_port']} (stop with Ctrl+C)"
            )
            try:
                pen.serve_forever()
            except KeyboardInterrupt:
                self.stdout.write("Switched off.")
