/** Room that the browser gives, and whether it promises to keep what is stored. */
export interface Quota {
  /** Bytes in use and bytes allowed; 0 allowed where the browser does not say. */
  readonly used: number;
  readonly quota: number;
  readonly persisted: boolean;
}

export async function readQuota(): Promise<Quota> {
  if (typeof navigator === 'undefined' || !navigator.storage?.estimate) return { used: 0, quota: 0, persisted: false };
  const [{ usage = 0, quota = 0 }, persisted] = await Promise.all([navigator.storage.estimate(), navigator.storage.persisted?.() ?? false]);
  return { used: usage, quota, persisted };
}

/** Asks for storage that is not cleared when the machine runs out of room; false when the browser does not grant it. */
export const askToKeep = async (): Promise<boolean> => (await navigator.storage?.persist?.()) ?? false;
