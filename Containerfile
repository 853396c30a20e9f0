# Adze for a container: one image for the application and its worker. See deploy/compose.yaml.
FROM debian:bookworm-slim AS build
RUN apt-get update && apt-get install -y --no-install-recommends git nodejs npm python3 python3-venv
COPY . /src
WORKDIR /src
RUN scripts/package /dist

FROM debian:bookworm-slim
# postgresql-client: adze backup and adze restore call pg_dump and pg_restore.
RUN apt-get update \
  && apt-get install -y --no-install-recommends ca-certificates postgresql-client python3 python3-venv \
  && rm -rf /var/lib/apt/lists/* \
  && useradd --system --create-home --home-dir /var/lib/adze --shell /usr/sbin/nologin adze
COPY requirements.txt /tmp/
COPY --from=build /dist/*.whl /tmp/
RUN python3 -m venv /opt/adze \
  && /opt/adze/bin/pip install --no-cache-dir --require-hashes -r /tmp/requirements.txt \
  && /opt/adze/bin/pip install --no-cache-dir --no-deps /tmp/*.whl \
  && rm /tmp/*.whl /tmp/requirements.txt
ENV PATH=/opt/adze/bin:$PATH ADZE_HOST=0.0.0.0 ADZE_WORKER=false NUMBA_CACHE_DIR=/var/lib/adze/compiled
USER adze
WORKDIR /var/lib/adze
EXPOSE 8321
CMD ["adze", "serve"]
