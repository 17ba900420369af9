/** What the tool in hand can be told, over the end of the page. */
import { useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Text, useTheme } from 'react-native-paper';
import { ERASER_SIZES } from '../../../storage/settingsFile';
import { backToInk, convertSelected, copySelectedAsText, hasOriginals } from '../../../store/converting';
import { copySelectedInto, headSelected, selectOtherNote } from '../../../store/pages';
import { settingsSlice, toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { copySelected, cutSelected, duplicateSelected } from '../../../store/clipboard';
import { asInk, deleteSelected, fillSelected, groupSelected, restyleSelected, selected, setHeads, tidySelected, ungroupSelected } from '../../../store/tools';
import { SOLIDS } from '../../../core/note/kinds/solid';
import { SOLID_WORDS } from '../../../core/note/kinds/names';
import { courseOf, setCourse, setSolid } from '../../../store/shaping';
import { isOpen } from '../../../core/ink/shapes/shape';
import { originOfSelected, showOrigin, startCutOut, takeOverSelected } from '../../../store/takingOver';
import { TINTS } from '../../../core/ink/inks';
import { isStroke } from '../../../core/note/kinds/kinds';
import { holdStill, layOver, mirrorSelected, selectedPictures, showWhole, startCropping } from '../../../store/picturesOnPage';
import { offeredColors } from '../../../store/cup';
import { NoteChooser } from '../pages/NoteChooser';
import { refOfSelected } from '../../../store/refs';
import { selectedSlips, slipFromSelection } from '../../../store/slips';
import { axesUnder, readLine, selectedAxes } from '../../../store/axes';
import { copyCells, gridIn, openTable, saveCsv, tableFromGrid, tableOf } from '../../../store/tables';
import { colorName } from '../pens/names';
import { Swatch } from '../pens/Swatch';
import { DeckButton } from './DeckButton';
import { Bar, Words } from './OptionParts';
import { TableOptions } from './TableOptions';
import { ArrangeOptions, SlipOptions } from './ThingOptions';
import { TypeOptions } from './TypeOptions';
import { textPx } from '../../../ui/textScale';

const { set, toolChosen } = toolsSlice.actions;

interface OptionsProps {
  readonly onPaste: () => void;
  readonly onAll: () => void;
  readonly onWeb: (url: string) => void;
}

/** `onPaste`: pastes in the middle of the view; `onAll`: takes all ink of the page in view; `onWeb`: shows an address. */
export function Options({ onPaste, onAll, onWeb }: OptionsProps) {
  const { colors } = useTheme();
  const { tool } = useAppSelector((s) => s.tools);
  const write = useAppSelector((s) => s.note.mode === 'write' && !s.note.following);
  const sheet = useAppSelector((s) => s.tools.sheet);
  const cells = useAppSelector((s) => tableOf(s) !== null);
  if (!write || (sheet !== 'none' && sheet !== 'arrange')) return null;
  const row = sheet === 'arrange' ? <ArrangeOptions /> : tool === 'eraser' ? <EraserOptions /> : tool === 'lasso' ? <LassoOptions onPaste={onPaste} onAll={onAll} onWeb={onWeb} /> : tool === 'shapes' || tool === 'fill' ? <ShapeOptions /> : tool === 'type' ? cells ? <TableOptions /> : <TypeOptions /> : null;
  if (!row) return null;
  return (
    <View style={styles.outer}>
      <View role="toolbar" aria-label="Options of the tool" style={[styles.row, { backgroundColor: colors.surface, borderColor: colors.outlineVariant }]}>
        {row}
      </View>
    </View>
  );
}

function EraserOptions() {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const eraser = useAppSelector((s) => s.settings.eraser);
  const patch = (p: Partial<typeof eraser>) => void dispatch(settingsSlice.actions.patched({ eraser: { ...eraser, ...p } }));
  return (
    <>
      <DeckButton name="Whole strokes" toggles on={eraser.by === 'stroke'} onPress={() => patch({ by: 'stroke' })}>
        Strokes
      </DeckButton>
      {ERASER_SIZES.map((size, i) => {
        const on = eraser.by === 'area' && eraser.size === size;
        return (
          <DeckButton key={size} name={`Area, ${size} mm`} toggles on={on} onPress={() => patch({ by: 'area', size })}>
            <View style={styles.area}>
              <View style={{ width: 7 + 5 * i, height: 7 + 5 * i, borderRadius: 12, borderWidth: 2, borderColor: on ? colors.onSecondary : colors.onSurface }} />
              <Text style={[styles.size, { color: on ? colors.onSecondary : colors.onSurface }]}>{size} mm</Text>
            </View>
          </DeckButton>
        );
      })}
      <Bar />
      <DeckButton name="Only highlighter" toggles on={eraser.onlyHighlighter} onPress={() => patch({ onlyHighlighter: !eraser.onlyHighlighter })}>
        Only highlighter
      </DeckButton>
      <DeckButton name="Pen returns after erasing" toggles on={eraser.penReturns} onPress={() => patch({ penReturns: !eraser.penReturns })}>
        Pen returns
      </DeckButton>
    </>
  );
}

function LassoOptions({ onPaste, onAll, onWeb }: OptionsProps) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  // What was selected may be gone by undo.
  const some = useAppSelector((s) => selected(s).length > 0);
  const grouped = useAppSelector((s) => selected(s).some((k) => k.group));
  const headed = useAppSelector((s) => selected(s).some((k) => s.note.note!.header.headings?.some((h) => h.strokes.includes(k.id))));
  const clipboard = useAppSelector((s) => s.clipboard !== null);
  const pictures = useAppSelector((s) => selectedPictures(s).length > 0);
  const inked = useAppSelector((s) => selected(s).some((k) => isStroke(k) || k.kind === 'typed' || k.kind === 'area'));
  const written = useAppSelector((s) => selected(s).some(isStroke));
  const wasInk = useAppSelector(hasOriginals);
  const looks = useAppSelector((s) => selected(s).some((k) => k.kind !== 'picture' && k.kind !== 'unknown'));
  const slips = useAppSelector((s) => selectedSlips(s).length > 0);
  const linked = useAppSelector((s) => refOfSelected(s) !== null);
  const table = useAppSelector((s) => {
    const tables = selected(s).flatMap((k) => (k.kind === 'table' ? [k] : []));
    return tables.length === 1 ? tables[0] : null;
  });
  const loose = useAppSelector((s) => selected(s).some((k) => k.kind !== 'slip' && k.on === undefined));
  const axes = useAppSelector((s) => selectedAxes(s) !== null);
  const readable = useAppSelector((s) => axesUnder(s) !== null);
  const many = useAppSelector((s) => selected(s).length > 1);
  const beside = useAppSelector((s) => s.beside.note !== null);
  const origin = useAppSelector(originOfSelected);
  if (!some) {
    return (
      <>
        {beside && <Words name="Cut out" onPress={() => dispatch(startCutOut())} />}
        {clipboard && <Words name="Paste" onPress={onPaste} />}
        <Words name="Select all" onPress={onAll} />
      </>
    );
  }
  return (
    <>
      {pictures && <PictureOptions />}
      {slips && <SlipOptions />}
      <GridOption />
      {axes && <Words name="Numbers of the axes" onPress={() => dispatch(set({ sheet: 'axes' }))} />}
      {readable && <Words name="Read off" onPress={() => dispatch(readLine())} />}
      {table && (
        <>
          <Words name="Type into it" onPress={() => dispatch(openTable(table))} />
          <Words name="CSV file" onPress={() => dispatch(saveCsv())} />
          <Words name="Copy cells" onPress={() => dispatch(copyCells())} />
          <Bar />
        </>
      )}
      {inked && <ColorsOfSelection />}
      {looks && <Words name="Look" onPress={() => dispatch(set({ sheet: 'look' }))} />}
      {beside && <Words name="Take over" onPress={() => dispatch(takeOverSelected())} />}
      {origin && <Words name="Where it came from" onPress={() => dispatch(showOrigin(origin, onWeb))} />}
      <Words name="Copy" onPress={() => dispatch(copySelected())} />
      <Words name="Cut" onPress={() => dispatch(cutSelected())} />
      {clipboard && <Words name="Paste" onPress={onPaste} />}
      <IntoNote />
      <Words name="Duplicate" onPress={() => dispatch(duplicateSelected())} />
      <DeckButton name="Delete" color={colors.error} onPress={() => dispatch(deleteSelected())}>
        Delete
      </DeckButton>
      <Bar />
      {inked && <Words name="Tidy" onPress={() => dispatch(tidySelected())} />}
      {many && <Words name={grouped ? 'Ungroup' : 'Group'} onPress={() => dispatch(grouped ? ungroupSelected() : groupSelected())} />}
      {loose && <Words name="Onto a slip" onPress={() => dispatch(slipFromSelection())} />}
      <Words name={linked ? 'Change the link' : 'Link'} onPress={() => dispatch(set({ sheet: 'link' }))} />
      <Words name="Arrange" onPress={() => dispatch(set({ sheet: 'arrange' }))} />
      {inked && <Words name={headed ? 'No heading' : 'Heading'} onPress={() => dispatch(headSelected(headed ? null : 1))} />}
      {written && <Words name="Convert to text" onPress={() => void dispatch(convertSelected())} />}
      {written && <Words name="Copy as text" onPress={() => void dispatch(copySelectedAsText())} />}
      {wasInk && <Words name="Back to ink" onPress={() => dispatch(backToInk())} />}
      <Words name="Keep as sticker" onPress={() => dispatch(set({ sheet: 'sticker' }))} />
      <Words name="Picture" onPress={() => dispatch(set({ sheet: 'picture' }))} />
    </>
  );
}

/** A drawn grid becomes a table. */
function GridOption() {
  const dispatch = useAppDispatch();
  const chosen = useAppSelector(selected, (a, b) => a.length === b.length && a.every((it, i) => it === b[i]));
  const grid = useMemo(() => gridIn(chosen), [chosen]);
  return grid && <Words name="Make a table" onPress={() => dispatch(tableFromGrid(grid))} />;
}

/** What is done to pictures alone. */
function PictureOptions() {
  const dispatch = useAppDispatch();
  const over = useAppSelector((s) => selectedPictures(s).every((p) => p.over));
  const isCropped = useAppSelector((s) => selectedPictures(s).some((p) => p.crop));
  const one = useAppSelector((s) => selectedPictures(s).length === 1);
  const moving = useAppSelector((s) => {
    const those = selectedPictures(s).filter((p) => p.moves !== undefined);
    return those.length ? those.some((p) => !p.held) : null;
  });
  return (
    <>
      <Words name={over ? 'Under the ink' : 'Over the ink'} onPress={() => dispatch(layOver(!over))} />
      <Words name="Mirror" onPress={() => dispatch(mirrorSelected())} />
      {one && <Words name="Crop" onPress={() => dispatch(startCropping('rectangle'))} />}
      {one && <Words name="Crop by a loop" onPress={() => dispatch(startCropping('loop'))} />}
      {isCropped && <Words name="Show all of it" onPress={() => dispatch(showWhole())} />}
      {moving !== null && <Words name={moving ? 'Hold still' : 'Let it move'} onPress={() => dispatch(holdStill(moving))} />}
      <Bar />
    </>
  );
}

/** Copies what is selected to the end of another note: the one worked on last a touch away, any other by choice. */
function IntoNote() {
  const dispatch = useAppDispatch();
  const other = useAppSelector(selectOtherNote);
  const [choosing, setChoosing] = useState(false);
  if (!other) return null;
  const short = other.title.length > 14 ? `${other.title.slice(0, 13).trimEnd()}…` : other.title;
  return (
    <>
      <DeckButton name={`Into “${short}”: copy into ${other.title}`} onPress={() => void dispatch(copySelectedInto(other.id))}>
        {`Into “${short}”`}
      </DeckButton>
      <DeckButton name="Into … another note" onPress={() => setChoosing(true)}>
        Into …
      </DeckButton>
      {choosing && (
        <NoteChooser
          title="Copy into"
          onDismiss={() => setChoosing(false)}
          onChoose={(note) => {
            setChoosing(false);
            void dispatch(copySelectedInto(note));
          }}
        />
      )}
    </>
  );
}

/** The colours used last, for what is selected. */
function ColorsOfSelection() {
  const dispatch = useAppDispatch();
  const light = useAppSelector((s) => selected(s).every((k) => (isStroke(k) ? k.pen.kind === 'highlighter' : k.kind !== 'typed')));
  const now = useAppSelector((s) => {
    const it = selected(s).find((k) => k.kind === 'typed' || (isStroke(k) && (light || k.pen.kind !== 'highlighter')));
    return it?.kind === 'typed' ? it.looks[0][1].color : it && isStroke(it) ? it.pen.color : null;
  });
  const last = useAppSelector((s) => s.settings.lastColors);
  const offered = offeredColors(last, light).slice(0, 4);
  return (
    <View role="group" aria-label="Colour of the selection" style={styles.colors}>
      {offered.map((c) => (
        <Swatch key={c} color={c} name={colorName(c)} on={now === c} onPress={() => dispatch(restyleSelected({ color: c }))} />
      ))}
    </View>
  );
}

/** How a line runs between shapes. */
const COURSES = [
  { is: 'set', name: 'Straight, from where it was set', sign: '╱' },
  { is: 'sides', name: 'Straight, between the nearest sides', sign: '▫─▫' },
  { is: 'bent', name: 'Bent, round what stands between', sign: '└┐' },
] as const;

function ShapeOptions() {
  const dispatch = useAppDispatch();
  const { tool, fill } = useAppSelector((s) => s.tools);
  const { snap, holdShapes } = useAppSelector((s) => s.settings);
  // One string, so that the row is drawn anew only when it would differ.
  const looks = useAppSelector((s) => {
    const [stroke] = tool === 'shapes' ? selected(s) : [];
    if (stroke?.kind === 'solid') return `solid none whole ${stroke.fill ?? 'none'} ${stroke.solid}`;
    if (stroke?.kind !== 'stroke' || !stroke.shape) return '';
    const { shape, pen, fill: inside } = stroke;
    return `${isOpen(shape) ? 'open' : 'closed'} ${shape.heads ?? 'none'} ${pen.line ?? 'whole'} ${inside ?? 'none'} ${courseOf(shape)}`;
  });
  const patch = (p: Parameters<typeof settingsSlice.actions.patched>[0]) => void dispatch(settingsSlice.actions.patched(p));
  if (looks) {
    const [kind, heads, line, inside, course] = looks.split(' ');
    const open = kind === 'open';
    return (
      <>
        {open &&
          (['end', 'start', 'both'] as const).map((h) => (
            <DeckButton key={h} name={`Arrow head at ${h === 'both' ? 'both ends' : `the ${h}`}`} toggles on={heads === h} onPress={() => dispatch(setHeads(heads === h ? null : h))}>
              {h === 'end' ? '→' : h === 'start' ? '←' : '↔'}
            </DeckButton>
          ))}
        {open && (
          <>
            <Bar />
            {COURSES.map(({ is, name, sign }) => (
              <DeckButton key={is} name={name} toggles on={course === is} onPress={() => dispatch(setCourse(is))}>
                {sign}
              </DeckButton>
            ))}
            <Bar />
          </>
        )}
        {kind !== 'solid' && (['dashed', 'dotted'] as const).map((l) => (
          <DeckButton key={l} name={l === 'dashed' ? 'Dashed outline' : 'Dotted outline'} toggles on={line === l} onPress={() => dispatch(restyleSelected({ line: line === l ? undefined : l }))}>
            {l === 'dashed' ? '– – –' : '· · · ·'}
          </DeckButton>
        ))}
        {!open && (
          <>
            <Bar />
            {TINTS.map((t) => (
              <Swatch key={t.color} {...t} name={`Fill ${t.name}`} on={inside === t.color} onPress={() => dispatch(fillSelected(inside === t.color ? null : t.color))} />
            ))}
            <Bar />
            {SOLIDS.map((solid) => (
              <DeckButton key={solid} name={`As a ${SOLID_WORDS[solid].toLowerCase()}`} toggles on={course === solid} onPress={() => dispatch(setSolid(solid))}>
                {SOLID_WORDS[solid]}
              </DeckButton>
            ))}
          </>
        )}
        <Bar />
        <Words name="Look" onPress={() => dispatch(set({ sheet: 'look' }))} />
        <Words name="Duplicate" onPress={() => dispatch(duplicateSelected())} />
        {kind !== 'solid' && <Words name="As ink" onPress={() => dispatch(asInk())} />}
        <Words name="Delete" onPress={() => dispatch(deleteSelected())} />
      </>
    );
  }
  return (
    <>
      <DeckButton name="Fill an area" toggles on={tool === 'fill'} onPress={() => dispatch(toolChosen(tool === 'fill' ? 'shapes' : 'fill'))}>
        Fill
      </DeckButton>
      {tool === 'fill' ? (
        TINTS.map((t) => <Swatch key={t.color} {...t} on={fill === t.color} onPress={() => dispatch(set({ fill: t.color }))} />)
      ) : (
        <>
          <DeckButton name="Snap 45°: level, upright and at 45 degrees" toggles on={snap} onPress={() => patch({ snap: !snap })}>
            Snap 45°
          </DeckButton>
          <DeckButton name="Hold for a shape: keep still at its end" toggles on={holdShapes} onPress={() => patch({ holdShapes: !holdShapes })}>
            Hold for a shape
          </DeckButton>
        </>
      )}
    </>
  );
}

const styles = StyleSheet.create({
  outer: { flexDirection: 'row', paddingHorizontal: 6, paddingBottom: 6, pointerEvents: 'box-none' },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', maxWidth: '100%', gap: 2, paddingHorizontal: 6, paddingVertical: 3, borderRadius: 14, borderWidth: 1, pointerEvents: 'auto' },
  colors: { flexDirection: 'row' },
  area: { height: 40, alignItems: 'center', justifyContent: 'space-evenly' },
  size: { fontSize: textPx(11), lineHeight: textPx(13) },
});
