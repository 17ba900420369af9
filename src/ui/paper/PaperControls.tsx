/** Size, kind, spacing, margin and colours of a paper. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { HelperText, IconButton, SegmentedButtons, Text, TextInput } from 'react-native-paper';
import { BOARD_KINDS } from '../../core/note/board';
import { COVER, FIRST_SPACING, FIRST_TOP, LEAST_SIDE, LINE, MOST_SIDE, RULED_WIDTHS, SHEET, SIZES, sizeName, COVER_TINTS, LINE_TINTS, SHEET_TINTS } from '../../core/note/paper';
import { PAPER_KINDS, type PaperKind , PageForm, Paper } from '../../core/note/schema';
import { Choice } from '../Choice';
import { Range } from '../Range';
import { Select } from '../Select';
import { mm, PAPER_WORDS, spacingWords } from './names';
import { PaperPreview } from './PaperPreview';
import '../controls.css';

const OWN = 'own';
const NO_INK = [] as const;
/** A corner of the paper, large enough to see what is printed on it. */
const sampleOf = (kind: PaperKind): PageForm => ({ w: 84, h: 69, paper: { kind, spacing: FIRST_SPACING[kind], top: Math.min(FIRST_TOP[kind], 16) } });

/** `form`: the paper as it is; `onChange` gets it as it shall be. `board`: it has no size, and no ends. */
export function PaperControls({ form, onChange, board = false }: { form: PageForm; onChange: (form: PageForm) => void; board?: boolean }) {
  const { paper } = form;
  const set = (patch: Partial<Paper>) => onChange({ ...form, paper: { ...paper, ...patch } });
  const kind = (to: PaperKind) => {
    // Lines to write on keep the writer's spacing from kind to kind; squares and staves have one of their own.
    const written = (k: PaperKind) => k === 'ruled' || k === 'columns' || k === 'cornell' || k === 'week' || k === 'plain';
    // A cover's colour is none for a sheet to write on, nor the other way round.
    const other = (to === 'cover') !== (paper.kind === 'cover');
    set({ kind: to, ...(other ? { sheet: undefined, margin: undefined } : {}), spacing: written(to) && written(paper.kind) ? paper.spacing : FIRST_SPACING[to], top: FIRST_TOP[to] });
  };
  return (
    <View style={styles.all}>
      <View role="radiogroup" aria-label="Kind of paper" style={styles.row}>
        {(board ? BOARD_KINDS : PAPER_KINDS).map((k) => (
          <button key={k} type="button" role="radio" aria-checked={paper.kind === k} data-on={paper.kind === k} className="paper-kind" onClick={() => kind(k)}>
            <span aria-hidden>
              <PaperPreview form={sampleOf(k)} placed={NO_INK} width={56} height={46} label="" />
            </span>
            {PAPER_WORDS[k]}
          </button>
        ))}
      </View>
      {paper.kind !== 'plain' && paper.kind !== 'cover' && (
        <View>
          <View style={styles.line}>
            <Text>{paper.kind === 'staves' ? 'Lines of a staff' : paper.kind === 'squared' || paper.kind === 'dotted' || paper.kind === 'isometric' ? 'Squares' : 'Lines'}</Text>
            <Text style={styles.value}>{spacingWords(paper.spacing)}</Text>
          </View>
          <View style={styles.slide}>
            <IconButton icon="minus" mode="outlined" aria-label="Closer by 0.1 mm" disabled={paper.spacing <= 1} onPress={() => set({ spacing: step(paper.spacing, -1) })} style={styles.step} />
            <View style={styles.grow}>
              <Range label="Spacing" min={paper.kind === 'staves' ? 1 : 2} max={paper.kind === 'staves' ? 5 : 20} step={0.1} value={paper.spacing} text={spacingWords(paper.spacing)} onChange={(v) => set({ spacing: Math.round(v * 10) / 10 })} />
            </View>
            <IconButton icon="plus" mode="outlined" aria-label="Wider by 0.1 mm" disabled={paper.spacing >= 50} onPress={() => set({ spacing: step(paper.spacing, 1) })} style={styles.step} />
          </View>
          {(paper.kind === 'ruled' || paper.kind === 'columns' || paper.kind === 'cornell') && (
            <View style={styles.row}>
              {Object.entries(RULED_WIDTHS).map(([name, width]) => (
                <Choice key={name} role="button" name={name} label={`Lines ${name}, ${mm(width)}`} on={Math.abs(width - paper.spacing) < 0.05} onPress={() => set({ spacing: width })} />
              ))}
            </View>
          )}
        </View>
      )}
      {!board && <SizeControl form={form} onChange={onChange} />}
      {paper.kind === 'cover' ? (
        <Tints name="Colour of the cover" tints={COVER_TINTS} usual={COVER} value={paper.sheet} onChange={(sheet) => set({ sheet })} />
      ) : (
        <>
          {!board && <View>
            <View style={styles.line}>
              <Text>Margin line</Text>
              <Text style={styles.value}>{paper.margin ? mm(paper.margin) : 'none'}</Text>
            </View>
            <Range label="Margin line" min={0} max={60} step={1} value={paper.margin ?? 0} text={paper.margin ? mm(paper.margin) : 'none'} onChange={(margin) => set({ margin: margin || undefined })} />
          </View>}
          <Tints name="Colour of the sheet" tints={SHEET_TINTS} usual={SHEET} value={paper.sheet} onChange={(sheet) => set({ sheet })} />
          <Tints name="Colour of the lines" tints={LINE_TINTS} usual={LINE} value={paper.line} onChange={(line) => set({ line })} />
        </>
      )}
    </View>
  );
}

const step = (v: number, by: 1 | -1): number => Math.min(50, Math.max(1, Math.round(v * 10 + by) / 10));

function SizeControl({ form, onChange }: { form: PageForm; onChange: (form: PageForm) => void }) {
  const lying = form.w > form.h;
  const name = sizeName(form);
  const [own, setOwn] = useState(name === null);
  const pick = (to: string) => {
    setOwn(to === OWN);
    const size = SIZES.get(to);
    if (size) onChange({ ...form, ...(lying ? { w: size.h, h: size.w } : size) });
  };
  return (
    <View style={styles.size}>
      <View style={styles.line}>
        <Select label="Size" value={own ? OWN : (name ?? OWN)} options={[...[...SIZES.keys()].filter((n) => Math.min(SIZES.get(n)!.w, SIZES.get(n)!.h) >= LEAST_SIDE && SIZES.get(n)!.h <= MOST_SIDE).map((n) => ({ value: n, text: n })), { value: OWN, text: 'A size of your own' }]} onChange={pick} />
        <SegmentedButtons
          density="small"
          value={lying ? 'lying' : 'upright'}
          onValueChange={(way) => {
            if ((way === 'lying') !== lying) onChange({ ...form, w: form.h, h: form.w });
          }}
          buttons={[
            { value: 'upright', label: 'Upright' },
            { value: 'lying', label: 'Lying' },
          ]}
          style={styles.way}
        />
      </View>
      {own && (
        <View style={styles.row}>
          <Side name="Width" value={form.w} onChange={(w) => onChange({ ...form, w })} />
          <Side name="Height" value={form.h} onChange={(h) => onChange({ ...form, h })} />
        </View>
      )}
    </View>
  );
}

function Side({ name, value, onChange }: { name: string; value: number; onChange: (mm: number) => void }) {
  const [typing, setTyping] = useState<string | null>(null);
  const typed = (text: string) => {
    const v = Number(text.replace(',', '.'));
    const good = Number.isFinite(v) && v >= LEAST_SIDE && v <= MOST_SIDE;
    setTyping(good ? null : text);
    if (good) onChange(v);
  };
  return (
    <View style={styles.side}>
      <TextInput mode="outlined" dense label={`${name}, mm`} accessibilityLabel={`${name} in millimetres`} inputMode="decimal" value={typing ?? String(Math.round(value * 10) / 10)} onChangeText={typed} error={typing !== null} />
      {typing !== null && <HelperText type="error">From {LEAST_SIDE} to {MOST_SIDE} mm.</HelperText>}
    </View>
  );
}

function Tints({ name, tints, usual, value, onChange }: { name: string; tints: readonly { color?: string; name: string }[]; usual: string; value?: string; onChange: (color?: string) => void }) {
  return (
    <View role="radiogroup" aria-label={name} style={styles.row}>
      <Text style={styles.tintName}>{name}</Text>
      {tints.map((t) => (
        <button key={t.name} type="button" role="radio" aria-checked={value === t.color} aria-label={t.name} title={t.name} className="tint" style={{ background: t.color ?? usual }} onClick={() => onChange(t.color)} />
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 14 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8, alignItems: 'center' },
  line: { flexDirection: 'row', flexWrap: 'wrap', justifyContent: 'space-between', alignItems: 'center', gap: 10 },
  slide: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  grow: { flex: 1 },
  step: { margin: 0, width: 44, height: 44 },
  value: { fontVariant: ['tabular-nums'], fontWeight: '700' },
  size: { gap: 8 },
  way: { width: 210 },
  side: { flex: 1, minWidth: 120 },
  tintName: { width: '100%' },
});
