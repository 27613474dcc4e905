# Phasko as a container: one process, no root, everything it stores in one volume.
#
#   docker build -t phasko -f Containerfile .
#   docker run -p 8765:8765 -v phasko:/data -e PHASKO_PASSPHRASE="a passphrase of your own" phasko
#
# The first stage builds the page and the wheel and is thrown away.
FROM debian:bookworm-slim AS build
RUN apt-get update \
    && apt-get install -y --no-install-recommends python3 python3-venv \
    && rm -rf /var/lib/apt/lists/*
WORKDIR /source
COPY . .
# Debian's own Node is too old for the page: the build takes one from the Python registry.
RUN python3 -m venv /build \
    && /build/bin/pip install --no-cache-dir --require-hashes -r requirements-node.lock \
    && PATH=/build/bin:$PATH /build/bin/pip wheel --no-cache-dir --no-deps --wheel-dir /wheels .

FROM debian:bookworm-slim
# Pango sets the text of the papers.
RUN apt-get update \
    && apt-get install -y --no-install-recommends \
        python3 python3-venv libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0 \
    && rm -rf /var/lib/apt/lists/*
COPY requirements-run.lock /tmp/
COPY --from=build /wheels /wheels
RUN python3 -m venv /opt/phasko \
    && /opt/phasko/bin/pip install --no-cache-dir --require-hashes -r /tmp/requirements-run.lock \
    && /opt/phasko/bin/pip install --no-cache-dir --no-deps /wheels/*.whl \
    && rm -rf /wheels /tmp/requirements-run.lock \
    && useradd --system --uid 10001 --home-dir /data --no-create-home phasko \
    && install -d -o phasko -g phasko -m 700 /data
# The compiler keeps what it compiled beside the data, since nothing else can be written.
ENV PATH=/opt/phasko/bin:$PATH NUMBA_CACHE_DIR=/data/compiled PYTHONUNBUFFERED=1
USER phasko
VOLUME /data
EXPOSE 8765
HEALTHCHECK --interval=30s --timeout=10s --start-period=30s \
    CMD ["python", "-c", "import urllib.request; urllib.request.urlopen('http://127.0.0.1:8765/api/session', timeout=8)"]
STOPSIGNAL SIGTERM
CMD ["phasko", "serve", "--host", "0.0.0.0", "--port", "8765", "--data", "/data"]
