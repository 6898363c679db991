# Rim Tally with its data in the volume /data. docs/serving.md says how it is run.
FROM debian:bookworm-slim
RUN apt-get update \
 && DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends python3 python3-venv gcc libc6-dev python3-dev \
 && rm -rf /var/lib/apt/lists/*
WORKDIR /app
COPY . .
RUN ./tally calc --help > /dev/null
RUN useradd --system --home-dir /data tally && mkdir -p /data && chown tally /data /app
USER tally
ENV TALLY_DATA=/data
VOLUME /data
EXPOSE 8000
HEALTHCHECK --interval=30s --timeout=5s --start-period=30s \
  CMD ["python3", "-c", "import urllib.request as u; u.urlopen('http://127.0.0.1:8000/readyz', timeout=4)"]
CMD ["./tally", "serve", "--host", "0.0.0.0", "--port", "8000"]
