/** What a search is narrowed to: a folder, a tag, how long ago, with sound or without. */
import { compareNames } from '../../core/collation';
import { useMemo } from 'react';
import { ScrollView, StyleSheet } from 'react-native';
import { NO_FILTER, type Filter } from '../../core/library/find';
import { foldersIn, type Folder, type Place } from '../../core/library/folder';
import { Button } from 'react-native-paper';
import { Select } from '../../ui/Select';

const DAYS = [
  { value: 0, text: 'any' },
  { value: 7, text: 'this week' },
  { value: 31, text: 'this month' },
  { value: 183, text: 'half a year' },
  { value: 366, text: 'a year' },
] as const;
const SOUND = [
  { value: 'any', text: 'any' },
  { value: 'with', text: 'with sound' },
  { value: 'without', text: 'without' },
] as const;

export function SearchFilter({ filter, onChange, folders, places }: { filter: Filter; onChange: (filter: Filter) => void; folders: ReadonlyMap<string, Folder>; places: Readonly<Record<string, Place>> }) {
  const names = useMemo(() => {
    const all: { value: string; text: string }[] = [{ value: '', text: 'all' }];
    const add = (parent: string | null, depth: number) => {
      for (const f of foldersIn(folders, parent)) {
        all.push({ value: f.id, text: `${'· '.repeat(depth)}${f.name}` });
        add(f.id, depth + 1);
      }
    };
    add(null, 0);
    return all;
  }, [folders]);
  const tags = useMemo(() => [...new Set(Object.values(places).flatMap((p) => p.tags ?? []))].sort(compareNames), [places]);
  return (
    <ScrollView horizontal showsHorizontalScrollIndicator={false} style={styles.all} contentContainerStyle={styles.row} role="group" aria-label="What is searched">
      {names.length > 1 && <Select label="Folder" value={filter.folder ?? ''} options={names} onChange={(v) => onChange({ ...filter, folder: v || null })} />}
      {tags.length > 0 && <Select label="Tag" value={filter.tag ?? ''} options={[{ value: '', text: 'all' }, ...tags.map((t) => ({ value: t, text: t }))]} onChange={(v) => onChange({ ...filter, tag: v || null })} />}
      <Select label="Made" value={filter.days ?? 0} options={DAYS} onChange={(v) => onChange({ ...filter, days: v || null })} />
      <Select label="Sound" value={filter.sound} options={SOUND} onChange={(sound) => onChange({ ...filter, sound })} />
      {JSON.stringify(filter) !== JSON.stringify(NO_FILTER) && (
        <Button compact onPress={() => onChange(NO_FILTER)}>
          Search all
        </Button>
      )}
    </ScrollView>
  );
}

const styles = StyleSheet.create({ all: { flexGrow: 0 }, row: { flexDirection: 'row', alignItems: 'center', gap: 14, paddingHorizontal: 4, paddingTop: 4 } });
