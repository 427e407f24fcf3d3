import { createTransport } from "nodemailer";
import type { Runtime } from "../runtime";

export interface Letter {
  to: string;
  subject: string;
  text: string;
}

const PATIENCE = 10_000;

/** Sends one letter by SMTP. Throws when no server is set, or it does not take the letter. */
export async function sendMail({ settings }: Pick<Runtime, "settings">, letter: Letter): Promise<void> {
  const { smtpUrl, mailFrom } = settings;
  if (!smtpUrl) throw new Error("ZAHLUNG_SMTP_URL is not set");
  const transport = createTransport(smtpUrl, {
    from: mailFrom,
  });
  try {
    await Promise.race([
      transport.sendMail(letter),
      new Promise((_, reject) =>
        setTimeout(() => reject(new Error("the mail server does not answer")), PATIENCE).unref(),
      ),
    ]);
  } finally {
    transport.close();
  }
}
