//! Figures of this process for whoever watches.

use std::net::SocketAddr;

use actix_web::dev::Server;
use anyhow::Result;

/// Bounds of what is measured, in seconds: a page takes milliseconds, a plan up to seconds.
#[cfg(feature = "outside")]
const BUCKETS: [f64; 10] = [0.001, 0.0025, 0.005, 0.01, 0.025, 0.05, 0.1, 0.5, 1.0, 5.0];

/// Serves them at `/metrics`, in the text format of Prometheus, at an address of their own.
#[cfg(feature = "outside")]
pub fn at(address: SocketAddr) -> Result<Server> {
    use actix_web::{App, HttpServer, web};
    use anyhow::Context as _;
    use metrics_exporter_prometheus::PrometheusBuilder;

    let recorder = PrometheusBuilder::new()
        .set_buckets(&BUCKETS)
        .context("the figures")?
        .install_recorder()
        .context("the figures")?;
    let shown = move || {
        let recorder = recorder.clone();
        let text = web::to(move || std::future::ready(recorder.render()));
        App::new().route("/metrics", text)
    };
    let server = HttpServer::new(shown).workers(1).bind(address);
    Ok(server.with_context(|| format!("cannot listen on {address} for figures"))?.run())
}

/// Says that there are none.
#[cfg(not(feature = "outside"))]
pub fn at(_: SocketAddr) -> Result<Server> {
    anyhow::bail!("this program is built without figures for whoever watches")
}
