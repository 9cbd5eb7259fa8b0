"""gunicorn behind the proxy: workers by the machine, slow and endless requests cut off."""

import os

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
