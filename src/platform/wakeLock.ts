/** Keeps the screen on while recording; asks again when the tab comes back to the front, as the browser lets go then. */
export function keepAwake(): () => void {
  let lock: WakeLockSentinel | null = null;
  let done = false;
  const ask = async () => {
    if (done || document.visibilityState !== 'visible' || !('wakeLock' in navigator)) return;
    try {
      lock = await navigator.wakeLock.request('screen');
      if (done) await lock.release();
    } catch {
      // Refused on low battery: recording goes on with the screen off as well.
      lock = null;
    }
  };
  void ask();
  document.addEventListener('visibilitychange', ask);
  return () => {
    done = true;
    document.removeEventListener('visibilitychange', ask);
    lock?.release().catch(() => undefined);
  };
}
