/** Handing notes on: the format, what little is to be chosen, what comes out and how large it is, before it is saved. */
import { useEffect, useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ActivityIndicator, Button, IconButton, Switch, Text, TextInput, useTheme } from 'react-native-paper';
import type { Note } from '../../core/note/edit';
import { namedPages } from '../../core/pdf/leaf';
import { canShare, copyFile, shareFile, showFile } from '../../platform/files';
import { EXPORTERS, exporterNamed, make, makeAndSave, noteFor, optionsOf, rememberChoice, saveMade, type Made } from '../../store/handOn';
import { isStopped } from '../../store/jobs';
import { reasonOf, say } from '../../store/messages';
import { store, useAppDispatch, useAppSelector } from '../../store/store';
import { selected } from '../../store/tools';
import { Choice } from '../../ui/Choice';
import { Dialog } from '../../ui/Dialog';
import { Icon } from '../../ui/icons';
import { Select } from '../../ui/Select';
import { MadePreview } from './MadePreview';

/** So many notes are made while one waits. */
const FEW = 3;
/** What was typed is waited for, ms. */
const WAIT_MS = 300;

const sizeText = (bytes: number): string => (bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toFixed(1)} MB`);

type State = { readonly is: 'making' } | { readonly is: 'made'; readonly made: Made } | { readonly is: 'failed'; readonly why: string } | { readonly is: 'later' };

export function HandOnSheet({ ids, title, onClose }: { ids: readonly string[]; title: string; onClose: () => void }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const last = useAppSelector((s) => s.settings.handing.last[0]);
  const [format, setFormat] = useState(() => exporterNamed(last ?? 'PDF').name);
  const [options, setOptions] = useState<Record<string, unknown>>(() => optionsOf(store.getState(), format));
  const [pages, setPages] = useState('');
  const hasSelection = useMemo(() => ids.length === 1 && ids[0] === store.getState().note.id && selected(store.getState()).length > 0, [ids]);
  const [selection, setSelection] = useState(hasSelection);
  const [note, setNote] = useState<Note | null>(null);
  const [lost, setLost] = useState<string | null>(null);
  const [done, setDone] = useState<{ of: object; state: State } | null>(null);
  const exporter = exporterNamed(format);
  const locked = useAppSelector((s) => (s.lock.status === 'open' && s.lock.whole) || ids.some((id) => s.library.covers[id] !== undefined));
  useEffect(() => {
    let here = true;
    dispatch(noteFor(ids[0])).then((n) => here && setNote(n), (e: unknown) => here && setLost(reasonOf(e)));
    return () => {
      here = false;
    };
  }, [dispatch, ids]);
  const count = note?.header.pages.length ?? 1;
  const badPages = exporter.paged && ids.length === 1 && namedPages(pages, count) === null;
  const ofSelection = selection && exporter.parts === true;
  const wanted = useMemo(() => ({ ids, format, options, pages, selection: ofSelection }), [ids, format, options, pages, ofSelection]);
  // What takes long is made as a job, which says how far it is and can be stopped.
  const later = ids.length > FEW || (note !== null && exporter.slow?.(note) === true);
  const obstacle = note && ids.length === 1 ? (exporter.obstacle?.(note) ?? null) : null;
  // What was made for another choice is not what comes out now.
  const state: State = lost !== null ? { is: 'failed', why: `The note cannot be read: ${lost}.` } : obstacle !== null ? { is: 'failed', why: obstacle } : later ? { is: 'later' } : done?.of === wanted ? done.state : { is: 'making' };
  useEffect(() => {
    if (!note) return;
    const { obstacle } = exporterNamed(wanted.format);
    if (later || badPages || (wanted.ids.length === 1 && obstacle?.(note))) return;
    const stop = new AbortController();
    const timer = setTimeout(() => {
      dispatch(make(wanted, { signal: stop.signal, progress: () => undefined })).then(
        (made) => !stop.signal.aborted && setDone({ of: wanted, state: { is: 'made', made } }),
        (e: unknown) => !stop.signal.aborted && !isStopped(e) && setDone({ of: wanted, state: { is: 'failed', why: `It cannot be made: ${reasonOf(e)}.` } }),
      );
    }, WAIT_MS);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [dispatch, note, wanted, badPages, later]);
  const choose = (name: string) => {
    setFormat(name);
    setOptions(optionsOf(store.getState(), name));
  };
  const finish = () => {
    dispatch(rememberChoice(format, options));
    onClose();
  };
  const save = () => {
    if (state.is === 'made') dispatch(saveMade(state.made));
    else if (state.is === 'later') void dispatch(makeAndSave(wanted));
    finish();
  };
  const share = async (made: Made) => {
    try {
      if (await shareFile(made.name, made.blob, made.type)) finish();
    } catch (e) {
      dispatch(say('copy', 'problem', `The device did not take the file (${reasonOf(e)}). Save it instead.`));
      onClose();
    }
  };
  const copy = async (made: Made) => {
    try {
      await copyFile(Promise.resolve(made.blob), made.type);
      dispatch(say('copy', 'info', 'The picture is on the clipboard.'));
    } catch (e) {
      dispatch(say('copy', 'problem', `The browser did not take the picture (${reasonOf(e)}). Save it as a file instead.`));
    }
    finish();
  };
  const print = (made: Made) => {
    dispatch(showFile(made.blob) ? say('copy', 'info', 'The PDF is in a tab of its own: print it from there.') : say('copy', 'problem', 'The browser let no new tab open. Allow it for this page, or save the PDF and print the file.'));
    finish();
  };
  const made = state.is === 'made' ? state.made : null;
  return (
    <Dialog onDismiss={onClose} kind="sheet">
      <View style={styles.top}>
        <View style={styles.grow}>
          <Dialog.Title>Hand on</Dialog.Title>
          <Text numberOfLines={1} style={[styles.of, { color: colors.onSurfaceVariant }]}>
            {title}
          </Text>
        </View>
        <IconButton icon="close" aria-label="Close Hand on" onPress={onClose} style={styles.icon} />
      </View>
      <Dialog.Content style={styles.all}>
        <View role="radiogroup" aria-label="Format" style={styles.formats}>
          {EXPORTERS.map((e) => (
            <Choice key={e.name} role="radio" name={e.name} on={e.name === format} onPress={() => choose(e.name)} />
          ))}
        </View>
        <Text style={{ color: colors.onSurfaceVariant }}>{`${exporter.name}: ${exporter.use}.`}</Text>
        {note && (
          <View style={styles.options}>
            {exporter.paged && ids.length === 1 && count > 1 && !ofSelection && (
              <TextInput mode="outlined" dense label="Pages" accessibilityLabel="Pages to hand on, such as 1-3, 7" placeholder="all, or 1-3, 7" value={pages} onChangeText={setPages} error={badPages} />
            )}
            {badPages && (
              <Text role="alert" style={{ color: colors.error }}>
                {`Name pages from 1 to ${count}, such as 1-3, 7.`}
              </Text>
            )}
            {hasSelection && exporter.parts && <Row label="Only what is selected" on={selection} onChange={setSelection} />}
            {exporter.fields(note).filter(({ when }) => (when === 'pages' ? count > 1 && !ofSelection : when !== 'alone' || ids.length === 1)).map((f) =>
              f.is === 'switch' ? (
                <Row key={f.key} label={f.label} on={options[f.key] === true} onChange={(on) => setOptions((o) => ({ ...o, [f.key]: on }))} />
              ) : (
                <Select
                  key={f.key}
                  row
                  label={f.label}
                  value={f.choices.some((c) => c.value === options[f.key]) ? String(options[f.key]) : f.choices[0].value}
                  options={f.choices.map(({ value, label }) => ({ value, text: label }))}
                  onChange={(value) => setOptions((o) => ({ ...o, [f.key]: value }))}
                />
              ),
            )}
          </View>
        )}
        {locked && (
          <View style={styles.row}>
            <Icon name="lock" size={20} color={colors.onSurfaceVariant} />
            <Text style={styles.grow}>{`${ids.length === 1 ? 'This note is' : 'Of these notes some are'} locked here. The file is not: whoever has it can read it.`}</Text>
          </View>
        )}
        <View style={styles.comes}>
          {state.is === 'making' && !badPages && (
            <View role="status" style={styles.row}>
              <ActivityIndicator />
              <Text>Making it …</Text>
            </View>
          )}
          {state.is === 'failed' && (
            <Text role="alert" style={{ color: colors.error }}>
              {state.why}
            </Text>
          )}
          {state.is === 'later' && <Text>It is made when you save it. You can write on meanwhile, and stop it.</Text>}
          {made && <MadePreview key={made.name + made.blob.size} made={made} kind={exporter.preview} />}
        </View>
      </Dialog.Content>
      <Dialog.Actions>
        <Text testID="made-size" style={styles.grow} numberOfLines={2}>
          {made ? `${made.name}, ${sizeText(made.blob.size)}` : ''}
        </Text>
        {made && made.type === 'image/png' && <Button onPress={() => void copy(made)}>Copy</Button>}
        {made && made.type === 'application/pdf' && <Button onPress={() => print(made)}>Print</Button>}
        {made && canShare(made.name, made.type) && <Button onPress={() => void share(made)}>Share</Button>}
        <Button mode="contained" disabled={!made && state.is !== 'later'} onPress={save}>
          Save file
        </Button>
      </Dialog.Actions>
    </Dialog>
  );
}

function Row({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <View style={styles.row}>
      <Text style={styles.grow}>{label}</Text>
      <Switch value={on} onValueChange={onChange} aria-label={label} />
    </View>
  );
}

const styles = StyleSheet.create({
  top: { flexDirection: 'row', alignItems: 'flex-start' },
  grow: { flex: 1 },
  of: { paddingHorizontal: 24, paddingBottom: 8 },
  all: { gap: 10 },
  icon: { margin: 0, width: 44, height: 44 },
  formats: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
  options: { gap: 4, alignItems: 'stretch' },
  // As high as a preview with its pages to turn: the formats stay under the finger when it comes.
  comes: { minHeight: 352, gap: 10 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 12, minHeight: 44 },
});
