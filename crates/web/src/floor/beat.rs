//! The clock that a class runs by: the server's, or in a demonstration a quicker one.

use chrono::Utc;

/// How time goes for classes that run.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Beat {
    /// The moment at which it was set, in milliseconds since 1970.
    set_ms: i64,
    /// Seconds of class in a second.
    speed: f64,
}

impl Default for Beat {
    fn default() -> Self {
        Self::at_speed(1.0)
    }
}

impl Beat {
    /// So many seconds of class in a second, from now on.
    pub fn at_speed(speed: f64) -> Self {
        Self { set_ms: Utc::now().timestamp_millis(), speed }
    }

    /// Now, in milliseconds since 1970.
    pub fn now_ms(self) -> i64 {
        let gone = Utc::now().timestamp_millis() - self.set_ms;
        self.set_ms + (gone as f64 * self.speed) as i64
    }

    /// Seconds of class in a second.
    pub fn speed(self) -> f64 {
        self.speed
    }
}
