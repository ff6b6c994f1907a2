# Winnow on a studio's machine: `make container` builds it, docs/studio.md says how it is started.
# Its data lies on the volume /data; photographs are mounted at the path that they have outside.
FROM docker.io/library/debian:bookworm-slim

RUN apt-get update \
    && apt-get install -y --no-install-recommends libturbojpeg0 python3 python3-venv \
    && rm -rf /var/lib/apt/lists/*

# First what seldom changes: the pinned packages. The wheel holds the built page.
COPY requirements/run.txt /opt/winnow/
RUN python3 -m venv /opt/winnow/venv \
    && /opt/winnow/venv/bin/pip install --no-cache-dir --require-hashes -q -r /opt/winnow/run.txt
COPY dist/winnow-*.whl /opt/winnow/
RUN /opt/winnow/venv/bin/pip install --no-cache-dir --no-deps --no-index -q /opt/winnow/winnow-*.whl \
    && rm /opt/winnow/winnow-*.whl \
    && useradd --create-home --uid 1000 winnow \
    && install -d -o winnow -g winnow -m 700 /data

ENV PATH=/opt/winnow/venv/bin:$PATH LANG=C.UTF-8 WINNOW_DATA=/data/winnow WINNOW_CACHE=/data/cache
USER winnow
VOLUME /data
STOPSIGNAL SIGTERM
ENTRYPOINT ["winnow"]
# The owner's page at 8470, on this machine alone; guests at 8471.
CMD ["serve", "--share"]
