/** What stands below the page, and for how long. */
import { noteOf, put } from '../core/note/edit';
import { newPage } from '../core/note/schema';
import { makeAlive } from './alive';
import { change, redo, undo } from './change';
import { say, STORING, storing } from './messages';
import { noteSlice } from './noteSlice';
import { makeStore } from './store';

const note = (id: string) => noteOf({ v: 2, id, title: 'a', made: 0, changed: 0, pages: [newPage('p')], takes: [], timeline: [] });
const title = (value: string) => ({ rows: [put('note', 'title', { value })] });

function begin() {
  const store = makeStore({ ...makeAlive(), device: 'here' });
  store.dispatch(noteSlice.actions.opening('n'));
  store.dispatch(noteSlice.actions.opened({ note: note('n'), following: false, mode: 'write' }));
  store.dispatch(change(title('b')));
  store.dispatch(say('tool', 'info', 'The page was renamed.', 'undo'));
  store.dispatch(say('there', 'info', 'Pages went there.', 'undo-there'));
  store.dispatch(say('other', 'info', 'Something else.'));
  return { store, keys: () => store.getState().messages.map((m) => m.key) };
}
type Begun = ReturnType<typeof begin>['store'];

const STEPS: Record<string, (store: Begun) => void> = {
  'another change': (store) => store.dispatch(change(title('c'))),
  'a step back': (store) => store.dispatch(undo()),
  'a step back and forth': (store) => (store.dispatch(undo()), store.dispatch(redo())),
  'the note being closed': (store) => store.dispatch(noteSlice.actions.closed()),
  'another note': (store) => store.dispatch(noteSlice.actions.opening('m')),
};
test.each(Object.keys(STEPS))('an Undo is offered for the step it stands beside and no other: it goes with %s, and what offers none stays', (name) => {
  const { store, keys } = begin();
  expect(keys()).toEqual(['tool', 'there', 'other']);
  STEPS[name](store);
  expect(keys()).toEqual(['other']);
});

test('what a recording writes by itself is no step: the Undo stays', () => {
  const { store, keys } = begin();
  store.dispatch(change(title('c'), false));
  expect(keys()).toEqual(['tool', 'there', 'other']);
});

test('what is said of a note goes with it, and what is said of everything stays', () => {
  for (const leave of [() => noteSlice.actions.closed(), () => noteSlice.actions.opening('m')]) {
    const { store, keys } = begin();
    store.dispatch(say('backdrop', 'problem', 'A PDF in this note is locked, and its password did not come along.', 'pdf-password'));
    store.dispatch(say('tool', 'problem', 'There is no handwriting in the selection.'));
    store.dispatch(say(STORING, 'problem', 'This browser has no room left.'));
    expect(keys()).toEqual(['there', 'other', 'backdrop', 'tool', STORING]);
    store.dispatch(leave());
    expect(keys()).toEqual(['other', STORING]);
  }
});

test('storing that fails is said once, with a way to save a copy, and that it works again is said after ink and sound', () => {
  const { store } = begin();
  const said = () => store.getState().messages.filter((m) => m.key === STORING);
  store.dispatch(storing('ink', null));
  expect(said()).toEqual([]);
  store.dispatch(noteSlice.actions.saveSet('failed'));
  store.dispatch(storing('ink', new Error('')));
  store.dispatch(storing('sound', new Error('it was put away')));
  expect(said()).toMatchObject([{ tone: 'problem', action: 'save-copy', text: expect.stringContaining('no room left') }]);
  store.dispatch(noteSlice.actions.saveSet('saved'));
  store.dispatch(storing('ink', null));
  // The sound still waits.
  expect(said()).toMatchObject([{ tone: 'problem' }]);
  store.dispatch(storing('sound', null));
  expect(said()).toMatchObject([{ tone: 'info', text: 'Everything is stored again.' }]);
  store.dispatch(storing('sound', new Error('it was put away')));
  expect(said()).toMatchObject([{ tone: 'problem', text: expect.stringMatching(/^Storing the sound failed \(it was put away\)/) }]);
});
