/** What is in the text of the note that something can be done with: things to do, dates, numbers and addresses. */
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';
import type { InText, Moment } from '../../../core/reading/inText';
import { clockText } from '../../../core/time/format';
import { openAddress } from '../../../platform/files';
import { canChange } from '../../../store/change';
import { countryName, lookThroughText, saveDates, selectCountry, selectMarkedToDo, selectRuns, tick } from '../../../store/inText';
import { playAt } from '../../../store/touching';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { Entry } from '../../../ui/Entry';
import type { Places } from '../lists/places';

const dayText = ({ year, month, day, minute }: Moment): string => {
  const at = new Date(year, month - 1, day, 0, minute ?? 0);
  return at.toLocaleString('en-GB', { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric', ...(minute === null ? {} : { hour: '2-digit', minute: '2-digit' }) });
};

export function InTextList({ places }: { places: Places }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const runs = useAppSelector(selectRuns);
  const marked = useAppSelector(selectMarkedToDo);
  const made = useAppSelector((s) => s.note.note!.header.made);
  const ticked = useAppSelector((s) => s.note.note!.header.ticked);
  const can = useAppSelector(canChange);
  const country = useAppSelector(selectCountry);
  const [found, setFound] = useState<readonly InText[] | 'failed' | null>(null);
  useEffect(() => {
    let still = true;
    lookThroughText(runs, made, country).then(
      (all) => still && setFound(all),
      () => still && setFound('failed'),
    );
    return () => void (still = false);
  }, [runs, made, country]);
  if (found === 'failed') return <Text variant="bodySmall">The text could not be looked through: a part of the program was not loaded. Connect to the network and open this again.</Text>;
  if (!found) return <Text variant="bodySmall">The text is being looked through.</Text>;
  const show = (it: InText) => places.showPlace(it.page, it.box, true);
  const dates = found.filter((it) => it.is === 'date');
  const toDo = found.filter((it) => it.is === 'do');
  const others = found.filter((it) => it.is !== 'do' && it.is !== 'date');
  const home = `The country for numbers without a code and dates such as 3/4 is ${countryName(country)}; Settings, under Reading handwriting, can change it.`;
  if (!found.length && !marked.length) return <Text variant="bodySmall">Nothing to do, no dates, numbers or addresses were found in what has been read. A box or a dash before a line, or the mark Do, makes it something to do. {home}</Text>;
  return (
    <View style={styles.all}>
      {(toDo.length > 0 || marked.length > 0) && (
        <Section name="To do">
          {toDo.map((it) => {
            const done = it.ticked || Boolean(ticked?.includes(it.id));
            return <ToDo key={it.id} text={it.text} done={done} disabled={!can} onTick={() => dispatch(tick(it.id, !done))} onShow={() => show(it)} />;
          })}
          {marked.map((m) => {
            const done = Boolean(ticked?.includes(m.id));
            return <ToDo key={m.id} text={m.text} note={m.ms === null ? 'mark Do' : `mark Do · ${clockText(m.ms)}`} done={done} disabled={!can} onTick={() => dispatch(tick(m.id, !done))} onShow={() => m.ms !== null && dispatch(playAt(m.ms))} />;
          })}
        </Section>
      )}
      {dates.length > 0 && (
        <Section name="Dates and times">
          {dates.map((it) => (
            <Entry key={it.id} label={`${it.text}: show it`} onPress={() => show(it)} actions={<Action name="Put in the calendar file" of={it.text} onPress={() => void dispatch(saveDates([it]))} />}>
              <Lines first={it.line} second={`${dayText(it.from)}${it.to ? ` to ${dayText(it.to)}` : ''}`} />
            </Entry>
          ))}
        </Section>
      )}
      {dates.length > 1 && (
        <Button compact onPress={() => void dispatch(saveDates(dates))} style={styles.more}>
          All {dates.length} in one calendar file
        </Button>
      )}
      {others.length > 0 && (
        <Section name="Numbers and addresses">
          {others.map((it) => (
            <Entry
              key={it.id}
              label={`${it.text}: show it`}
              onPress={() => show(it)}
              actions={it.is === 'phone' ? <Action name="Call" of={it.text} onPress={() => openAddress(`tel:${it.number}`)} /> : it.is === 'mail' ? <Action name="Write" of={it.text} onPress={() => openAddress(it.url)} /> : it.is === 'web' ? <Action name="Open" of={it.text} onPress={() => openAddress(it.url)} /> : null}
            >
              <Lines first={it.text} second={it.line === it.text ? '' : it.line} />
            </Entry>
          ))}
        </Section>
      )}
      <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
        “Tomorrow” and the like count from {new Date(made).toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' })}, the day of the note. {home}
      </Text>
    </View>
  );
}

function Section({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <View style={styles.section}>
      <Text variant="labelLarge" role="heading" aria-level={3}>
        {name}
      </Text>
      <View role="list" aria-label={name} style={styles.section}>
        {children}
      </View>
    </View>
  );
}

const Action = ({ name, of, onPress }: { name: string; of: string; onPress: () => void }) => (
  <Button compact accessibilityLabel={`${name}: ${of}`} onPress={onPress}>
    {name}
  </Button>
);

function Lines({ first, second }: { first: string; second: string }) {
  const { colors } = useTheme();
  return (
    <View style={styles.grow}>
      <Text>{first}</Text>
      {second !== '' && (
        <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
          {second}
        </Text>
      )}
    </View>
  );
}

function ToDo({ text, note, done, disabled, onTick, onShow }: { text: string; note?: string; done: boolean; disabled: boolean; onTick: () => void; onShow: () => void }) {
  const { colors } = useTheme();
  return (
    <View role="listitem" style={[styles.todo, { backgroundColor: colors.elevation.level2 }]}>
      <label className="do-box">
        <input type="checkbox" checked={done} disabled={disabled} onChange={onTick} aria-label={`Done: ${text}`} />
      </label>
      <Button compact mode="text" onPress={onShow} accessibilityLabel={`${text}: show it`} style={styles.grow} contentStyle={styles.left} labelStyle={[styles.words, { color: colors.onSurface }, done && styles.done]}>
        {text}
        {note ? ` (${note})` : ''}
      </Button>
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 14 },
  section: { gap: 8 },
  grow: { flex: 1, minWidth: 0 },
  left: { justifyContent: 'flex-start' },
  words: { textAlign: 'left', flexShrink: 1, marginHorizontal: 6 },
  done: { textDecorationLine: 'line-through' },
  todo: { flexDirection: 'row', alignItems: 'center', borderRadius: 10, minHeight: 48 },
  more: { alignSelf: 'flex-start' },
});
