import { mkdir, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import nodemailer from 'nodemailer';
import type { MailRow } from '../database/entities/index.ts';
import type { Settings } from '../settings.ts';

/** A letter as it goes over the wire (RFC 5322). Its message id is its own, so that a letter sent twice can be told. */
export async function asFile(
  mail: Pick<MailRow, 'id' | 'address' | 'subject' | 'body'>,
  to: string,
  at: number,
  settings: Settings,
): Promise<Buffer> {
  const made = nodemailer.createTransport({ streamTransport: true, buffer: true, newline: 'windows' });
  const { message } = await made.sendMail(envelope(mail, to, at, settings));
  return message as Buffer;
}

const envelope = (
  mail: Pick<MailRow, 'id' | 'address' | 'subject' | 'body'>,
  to: string,
  at: number,
  { mail: { domain }, school }: Settings,
) => ({
  from: { name: school.name, address: `jotmark@${domain}` },
  to: { name: to, address: mail.address },
  subject: mail.subject,
  text: mail.body,
  date: new Date(at),
  messageId: `<${mail.id}@${domain}>`,
});

/** Sends a letter: to the school's mail server, or, where none is set, into the folder of the simulated post. Throws when it could not. */
export async function send(mail: MailRow, to: string, at: number, settings: Settings): Promise<void> {
  const { server, folder } = settings.mail;
  if (server) {
    // Its waits are set by the address (nodemailer reads them from there).
    const url = new URL(server);
    for (const wait of ['connectionTimeout', 'greetingTimeout', 'socketTimeout'])
      if (!url.searchParams.has(wait)) url.searchParams.set(wait, '20000');
    const transport = nodemailer.createTransport(url.href);
    try {
      await transport.sendMail(envelope(mail, to, at, settings));
    } finally {
      transport.close();
    }
  } else if (folder) {
    await mkdir(folder, { recursive: true });
    // Whoever watches the folder never sees half a letter.
    const path = join(folder, `${mail.id}.eml`);
    await writeFile(`${path}.part`, await asFile(mail, to, at, settings));
    await rename(`${path}.part`, path);
  }
}
