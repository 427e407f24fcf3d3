import { createTransport } from "nodemailer";
import type { Runtime } from "../runtime";

export interface Letter {
  to: string;
  subject: string;
  text: string;
  html?: string;
  /** The name that it comes from; the address is the one that is set. */
  name?: string;
  replyTo?: string;
  /** `left@right`, the same when it is sent once more because nobody heard that it was taken (RFC 5322, 3.6.4). */
  messageId?: string;
}

const PATIENCE = 10_000;

/** The address of a sender that may be written with a name: `Name <address>`. */
const addressIn = (sender: string): string => /<([^<>]+)>\s*$/.exec(sender)?.[1] ?? sender;

/** Sends one letter by SMTP. Throws when no server is set, or it does not take the letter. */
export async function sendMail({ settings }: Pick<Runtime, "settings">, letter: Letter): Promise<void> {
  const { smtpUrl, mailFrom } = settings;
  if (!smtpUrl) throw new Error("ZAHLUNG_SMTP_URL is not set");
  const transport = createTransport(smtpUrl);
  const { name, messageId, ...rest } = letter;
  try {
    await Promise.race([
      transport.sendMail({
        ...rest,
        from: name ? { name, address: addressIn(mailFrom) } : mailFrom,
        ...(messageId && { messageId: `<${messageId}>` }),
      }),
      new Promise((_, reject) =>
        setTimeout(() => reject(new Error("the mail server does not answer")), PATIENCE).unref(),
      ),
    ]);
  } finally {
    transport.close();
  }
}
