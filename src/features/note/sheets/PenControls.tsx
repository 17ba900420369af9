/** Kind, colour, width, line and opacity: of a pen in the cup, or of what is written already. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { HelperText, Text, TextInput } from 'react-native-paper';
import { NIB_ANGLE, PEN_KINDS, type Pen, type PenKind } from '../../../core/ink/pen';
import { DeckButton } from '../deck/DeckButton';
import { inkColor, SWATCHES, TINTS } from '../../../core/ink/inks';
import { KIND_WORDS, nearestWidth, widthsOf } from '../pens/names';
import { Swatch } from '../pens/Swatch';
import { Slide } from './Sheet';

type Set = (look: Partial<Pen>) => void;

export function KindControl({ kind, onChange }: { kind: PenKind | null; onChange: (kind: PenKind) => void }) {
  return (
    <View role="group" aria-label="Kind of pen" style={styles.row}>
      {PEN_KINDS.map((k) => (
        <DeckButton key={k} name={KIND_WORDS[k]} toggles on={kind === k} onPress={() => onChange(k)}>
          {KIND_WORDS[k]}
        </DeckButton>
      ))}
    </View>
  );
}

export function ColorControl({ color, tints, onChange }: { color: string | null; tints: boolean; onChange: (color: string) => void }) {
  // What is being typed stands until it is a colour; then the colour of the pen does.
  const [typing, setTyping] = useState<string | null>(null);
  const code = typing ?? color ?? '';
  const typed = (text: string) => {
    const full = text.trim().toLowerCase().replace(/^#?/, '#');
    const long = /^#[0-9a-f]{6}$/.test(full);
    setTyping(long ? null : text);
    if (long) onChange(full);
  };
  const bad = typing !== null;
  return (
    <View>
      <View role="group" aria-label="Colour" style={styles.row}>
        {(tints ? [...TINTS, ...SWATCHES.slice(0, 6)] : SWATCHES).map((s) => (
          <Swatch key={s.color} {...s} on={color === s.color} onPress={() => {
              setTyping(null);
              onChange(s.color);
            }} />
        ))}
      </View>
      <TextInput mode="outlined" dense label="Colour by code" accessibilityLabel="Colour by code" value={code} onChangeText={typed} maxLength={7} autoCapitalize="none" error={bad} style={styles.code} />
      {bad && <HelperText type="error">A colour code is # and six digits from 0 to 9 and a to f, such as {inkColor('Blue')}.</HelperText>}
    </View>
  );
}

export function WidthControl({ kind, width, onChange }: { kind: PenKind; width: number; onChange: (width: number) => void }) {
  const all = widthsOf(kind);
  return <Slide name="Width" min={0} max={all.length - 1} step={1} value={all.indexOf(nearestWidth(kind, width))} text={`${width} mm`} onChange={(i) => onChange(all[i])} />;
}

export function LineControl({ line, onChange }: { line: Pen['line'] | null; onChange: (line: Pen['line']) => void }) {
  return (
    <View role="group" aria-label="Line" style={styles.labelled}>
      <Text>Line</Text>
      <View style={styles.row}>
        <DeckButton name="Whole line" toggles on={line === undefined} onPress={() => onChange(undefined)}>
          whole
        </DeckButton>
        <DeckButton name="Dashed line" toggles on={line === 'dashed'} onPress={() => onChange('dashed')}>
          dashed
        </DeckButton>
        <DeckButton name="Dotted line" toggles on={line === 'dotted'} onPress={() => onChange('dotted')}>
          dotted
        </DeckButton>
      </View>
    </View>
  );
}

export function OpacityControl({ opacity, onChange }: { opacity: number; onChange: (opacity: number) => void }) {
  return <Slide name="Opacity" min={10} max={100} step={5} value={Math.round(opacity * 100)} text={`${Math.round(opacity * 100)} %`} onChange={(v) => onChange(v / 100)} />;
}

export function AngleControl({ pen, onChange }: { pen: Pen; onChange: Set }) {
  const angle = pen.angle ?? NIB_ANGLE;
  return <Slide name="Angle of the edge" min={0} max={175} step={5} value={angle} text={`${angle}°`} onChange={(a) => onChange({ angle: a })} />;
}

/** A pen of another kind keeps its colour; its width becomes one that the kind is offered in. */
export function ofKind(kind: PenKind, before: Pen): Partial<Pen> {
  const light = kind === 'highlighter';
  const was = before.kind === 'highlighter';
  return { kind, width: light === was ? nearestWidth(kind, before.width) : light ? 5 : 0.5, ...(light === was ? {} : { opacity: light ? 0.45 : 1 }) };
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 2 },
  code: { maxWidth: 170 },
  labelled: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between' },
});
