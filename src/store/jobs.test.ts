import { makeAlive } from './alive';
import { runJob, stopJob } from './jobs';
import { makeStore } from './store';

const start = () => makeStore(makeAlive());
function gate() {
  let open!: () => void;
  return { open: () => open(), done: new Promise<void>((resolve) => (open = resolve)) };
}
const SAID = { key: 'k', stopped: 'Stopped.', failed: (e: unknown) => `Failed: ${(e as Error).message}.` };
/** All that is settled by now has been told. */
const settled = () => new Promise((r) => setImmediate(r));

test('a job says how far it is while it runs, and goes when it is done', async () => {
  const store = start();
  const g = gate();
  const done = store.dispatch(runJob({ kind: 'copy', title: 'Making a copy', task: async ({ progress }) => (progress(0.5, 'Tides'), g.done) }));
  await settled();
  expect(store.getState().jobs).toMatchObject([{ title: 'Making a copy', share: 0.5, at: 'Tides' }]);
  g.open();
  expect(await done).toBe(true);
  expect(store.getState().jobs).toEqual([]);
});

test('a job that fails, or is stopped, says so in its sentence and ends', async () => {
  const store = start();
  expect(await store.dispatch(runJob({ kind: 'copy', title: 'A', said: SAID, task: () => Promise.reject(new Error('no room')) }))).toBe(false);
  expect(store.getState().messages).toMatchObject([{ key: 'k', tone: 'problem', text: 'Failed: no room.' }]);
  const done = store.dispatch(runJob({ kind: 'copy', title: 'B', said: SAID, task: ({ signal }) => new Promise((_, reject) => signal.addEventListener('abort', () => reject(signal.reason as Error))) }));
  await settled();
  store.dispatch(stopJob({ kind: 'copy' }));
  expect(await done).toBe(false);
  expect(store.getState().messages).toMatchObject([{ key: 'k', tone: 'info', text: 'Stopped.' }]);
  expect(store.getState().jobs).toEqual([]);
});

test('jobs of a lane run one after another; one that waits is stopped at once, and the next still waits for what runs', async () => {
  const store = start();
  const [first, third] = [gate(), gate()];
  const ran: string[] = [];
  const job = (title: string, until: Promise<void>) => store.dispatch(runJob({ kind: 'copy', title, lane: 'files', said: SAID, task: async () => (ran.push(title), until) }));
  const a = job('a', first.done);
  const b = job('b', Promise.resolve());
  const c = job('c', third.done);
  await settled();
  expect(store.getState().jobs.map((j) => [j.title, j.share])).toEqual([['a', 0], ['b', null], ['c', null]]);
  store.dispatch(stopJob({ id: store.getState().jobs[1].id }));
  expect(await b).toBe(false);
  await settled();
  expect(ran).toEqual(['a']);
  first.open();
  expect(await a).toBe(true);
  await settled();
  expect(ran).toEqual(['a', 'c']);
  third.open();
  expect(await c).toBe(true);
  expect(store.getState().jobs).toEqual([]);
});
