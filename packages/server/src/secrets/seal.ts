import { createCipheriv, createDecipheriv, hkdfSync, randomBytes } from 'node:crypto';

/** Shortest key of a configuration. */
export const LEAST_KEY = 32;

/** Keeps secrets unreadable where they are stored (AES-256-GCM, NIST SP 800-38D; the key by HKDF, RFC 5869). */
export interface Seal {
  /** `about` names what the secret belongs to: it opens for that alone. */
  close(secret: string, about: string): string;
  /** Null when the seal was made with another key, for something else, or is damaged. */
  open(sealed: string, about: string): string | null;
}

export const createSeal = (key: string): Seal => {
  if (key.length < LEAST_KEY) throw new Error(`createGaveta: “encryptionKey” needs at least ${LEAST_KEY} characters`);
  const bytes = Buffer.from(hkdfSync('sha256', key, 'gaveta', 'connection secrets', 32));
  return {
    close(secret, about) {
      const start = randomBytes(12);
      const cipher = createCipheriv('aes-256-gcm', bytes, start).setAAD(Buffer.from(about));
      const sealed = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()]);
      return ['1', start.toString('base64'), cipher.getAuthTag().toString('base64'), sealed.toString('base64')].join(
        '.',
      );
    },
    open(sealed, about) {
      const [version, start, tag, data] = sealed.split('.');
      if (version !== '1' || !start || !tag || data === undefined) return null;
      try {
        const cipher = createDecipheriv('aes-256-gcm', bytes, Buffer.from(start, 'base64'), { authTagLength: 16 });
        cipher.setAAD(Buffer.from(about)).setAuthTag(Buffer.from(tag, 'base64'));
        return Buffer.concat([cipher.update(Buffer.from(data, 'base64')), cipher.final()]).toString('utf8');
      } catch {
        return null;
      }
    },
  };
};
