//! A mail server.

use lettre::message::header::ContentType;
use lettre::message::{Mailbox, Message};
use lettre::{AsyncSmtpTransport, AsyncTransport, Tokio1Executor};

use super::{Letter, MailError};

/// One with the address that letters come from.
#[derive(Clone)]
pub(super) struct Server {
    transport: AsyncSmtpTransport<Tokio1Executor>,
    from: Mailbox,
}

impl Server {
    pub(super) fn new(url: &str, from: &str) -> Result<Self, MailError> {
        let from = from.parse().map_err(|error| MailError(format!("`{from}`: {error}")))?;
        // The URL may hold a secret, so that it is not repeated.
        let transport = AsyncSmtpTransport::<Tokio1Executor>::from_url(url)
            .map_err(|error| MailError(format!("the URL of the mail server: {error}")))?;
        Ok(Self { transport: transport.build(), from })
    }

    pub(super) async fn send(&self, letter: Letter) -> Result<(), MailError> {
        let message = Message::builder()
            .from(self.from.clone())
            .to(letter.to.parse().map_err(|error| MailError(format!("{error}")))?)
            .subject(letter.subject)
            .header(ContentType::TEXT_PLAIN)
            .body(format!("{}\n\n{}\n", letter.words, letter.link))
            .map_err(|error| MailError(error.to_string()))?;
        self.transport.send(message).await.map(|_| ()).map_err(|error| MailError(error.to_string()))
    }
}
