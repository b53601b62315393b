"""How gunicorn serves Elder behind a web server: as many processes as there are cores, each with one thread for its
matrices, since two would only wait for each other. Each keeps its answers warm; with CACHE_URL they lend them on."""

import os

for name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS"):
    os.environ.setdefault(name, "1")  # read when numpy is first imported

bind = "127.0.0.1:8470"
workers = int(os.environ.get("WEB_CONCURRENCY", os.cpu_count() or 1))
threads = 8
worker_class = "elder.web.ui.slow_senders.PatientWorker"
control_socket_disable = True
forwarded_allow_ips = "127.0.0.1"
timeout = 60
loglevel = "warning"
