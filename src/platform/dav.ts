/** A folder on a WebDAV server (RFC 4918). */
import { createClient, getPatcher, type FileStat, type WebDAVClient } from 'webdav';
import type { Content } from '../core/formats/blobFile';

/** Why the server could not be used, as a sentence. */
export class DavError extends Error {
  readonly name = 'DavError';
}

export interface DavAccount {
  readonly url: string;
  readonly user: string;
  readonly password: string;
}

/** All of Scrivo's files lie in this folder of the server. */
const ROOT = '/scrivo';

/** Without the browser's own credentials: with them it asks for a password itself when one is wrong, and the answer never comes. */
const fetchBare: typeof fetch = (url, options) => fetch(url, { ...options, credentials: 'omit' });
getPatcher().patch('fetch', fetchBare as never);

const sentence = (e: unknown): DavError => {
  const status = (e as { status?: number }).status;
  if (status === 401 || status === 403) return new DavError('The backup server did not accept the name and password.');
  if (status === 404 || status === 409) return new DavError('The backup server has nothing at this address, or not all of the backup.');
  if (status === 507) return new DavError('The backup server has no room left.');
  if (status) return new DavError(`The backup server answered with error ${status}.`);
  return new DavError('The backup server cannot be reached. Check the address and the network; a server elsewhere must allow Scrivo’s address to use it (CORS).');
};

/**
 * Where backups may go. Over http everybody in the same network could read the notes and the password, so only Scrivo's own server, which the
 * page came from the same way, is used by it.
 */
export function addressOf(url: string, here: string | undefined = globalThis.location?.href): string {
  if (!URL.canParse(url, here)) throw new DavError('The address of the backup server is not one. It begins with https:// and a name.');
  const address = new URL(url, here);
  if (address.protocol === 'https:' || (here !== undefined && address.origin === new URL(here).origin)) return address.href;
  if (address.protocol === 'http:') throw new DavError('This address begins with http, which lets everybody in the network read the notes and the password on their way. Scrivo sends backups over https alone: switch it on at the server (most network drives have it in their settings), then use that address.');
  throw new DavError('Backups go to addresses that begin with https.');
}

export class DavFolder {
  private readonly client: WebDAVClient;
  private readonly address: string;

  /** @throws DavError for an address that no backup can go to. */
  constructor({ url, user, password }: DavAccount) {
    this.address = addressOf(url).replace(/\/+$/, '');
    this.client = createClient(this.address, user ? { username: user, password } : {});
  }

  private async ask<T>(work: () => Promise<T>): Promise<T> {
    try {
      return await work();
    } catch (e) {
      throw sentence(e);
    }
  }

  /** Makes the folders that are not there. */
  make(folders: readonly string[]): Promise<void> {
    return this.ask(async () => {
      for (const folder of ['', ...folders.map((f) => `/${f}`)]) if (!(await this.client.exists(ROOT + folder))) await this.client.createDirectory(ROOT + folder);
    });
  }

  /** Names of the files in a folder, in order; none when there is no such folder. */
  list(folder: string): Promise<string[]> {
    return this.ask(async () => {
      if (!(await this.client.exists(`${ROOT}/${folder}`))) return [];
      return ((await this.client.getDirectoryContents(`${ROOT}/${folder}`)) as FileStat[]).filter((f) => f.type === 'file').map((f) => f.basename).sort();
    });
  }

  write = (name: string, content: Content): Promise<void> =>
    this.ask(async () => {
      // The package takes nothing that is not in memory.
      const answer = await fetchBare(`${this.address}${ROOT}/${name}`, { method: 'PUT', headers: { ...this.client.getHeaders() }, body: content as Blob | Uint8Array<ArrayBuffer> });
      if (!answer.ok) throw Object.assign(new Error(answer.statusText), { status: answer.status });
    });

  read = (name: string): Promise<Uint8Array> => this.ask(async () => new Uint8Array((await this.client.getFileContents(`${ROOT}/${name}`, { format: 'binary' })) as ArrayBuffer));
}
