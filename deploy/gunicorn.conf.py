"""gunicorn behind the proxy: workers by the machine, slow and endless requests cut off."""

import os
import subprocess
import sys
from pathlib import Path

bind = os.environ.get("PELK_BIND", "127.0.0.1:8000")
workers = int(os.environ.get("PELK_WORKERS", str(min(2 * (os.cpu_count() or 1) + 1, 9))))
worker_class = "gthread"
threads = 4
timeout = 60
graceful_timeout = 30
keepalive = 30
max_requests = 5000
max_requests_jitter = 500
limit_request_line = 8000
limit_request_fields = 60
limit_request_field_size = 8000
control_socket_disable = True
loglevel = "warning"

_work: list[subprocess.Popen[bytes]] = []


def when_ready(server: object) -> None:
    """Start the workers of dear answers with the server, where no unit of their own runs them."""
    if os.environ.get("PELK_OWN_WORKER") != "0":
        manage = Path(__file__).resolve().parents[1] / "manage.py"
        count = int(os.environ.get("PELK_DEAR_WORKERS", "2"))
        _work.extend(subprocess.Popen([sys.executable, str(manage), "work"]) for _ in range(count))


def on_exit(server: object) -> None:
    """End them with the server."""
    for process in _work:
        process.terminate()
