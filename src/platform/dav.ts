/** A folder on a WebDAV server (RFC 4918). */
import { createClient, type FileStat, type WebDAVClient } from 'webdav';

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

const sentence = (e: unknown): DavError => {
  const status = (e as { status?: number }).status;
  if (status === 401 || status === 403) return new DavError('The backup server did not accept the name and password.');
  if (status === 404 || status === 409) return new DavError('The backup server has nothing at this address, or not all of the backup.');
  if (status === 507) return new DavError('The backup server has no room left.');
  if (status) return new DavError(`The backup server answered with error ${status}.`);
  return new DavError('The backup server cannot be reached. Check the address and the network; a server elsewhere must allow Scrivo’s address to use it (CORS).');
};

export class DavFolder {
  private readonly client: WebDAVClient;

  constructor({ url, user, password }: DavAccount) {
    this.client = createClient(new URL(url, globalThis.location?.href).href, user ? { username: user, password } : {});
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

  write = (name: string, bytes: Uint8Array): Promise<void> =>
    this.ask(async () => {
      await this.client.putFileContents(`${ROOT}/${name}`, bytes.slice().buffer, { overwrite: true });
    });

  read = (name: string): Promise<Uint8Array> => this.ask(async () => new Uint8Array((await this.client.getFileContents(`${ROOT}/${name}`, { format: 'binary' })) as ArrayBuffer));
}
