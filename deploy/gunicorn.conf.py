"""How gunicorn serves Elder behind a web server: one process, which keeps the answers warm for everybody."""

bind = "127.0.0.1:8470"
workers = 1
threads = 8
worker_class = "elder.web.ui.slow_senders.PatientWorker"
control_socket_disable = True
forwarded_allow_ips = "127.0.0.1"
timeout = 60
loglevel = "warning"
