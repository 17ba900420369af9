/** The tools of Write in the deck's row: the pen in hand, eraser, lasso, undo; as many more as fit, the rest behind “More”. */
import { ScrollView, StyleSheet, View } from 'react-native';
import { TouchableRipple, useTheme } from 'react-native-paper';
import type { PenSetting } from '../../../core/ink/pen';
import { redo, undo } from '../../../store/change';
import { pickPen } from '../../../store/cup';
import { turnStrip } from '../../../store/boards';
import { toolsSlice, type ToolName } from '../../../store/slices';
import type { RootState } from '../../../store/state';
import { useAppDispatch, useAppSelector, useAppStore } from '../../../store/store';
import type { Store } from '../../../store/thunk';
import { useRoom } from '../../../ui/useRoom';
import { PenChip } from '../pens/PenChip';
import { DeckButton } from './DeckButton';
import { toolsInRow } from './fit';

const { set, toolChosen } = toolsSlice.actions;

export interface DeckTool {
  readonly name: string;
  readonly icon: string;
  readonly toggles: boolean;
  on(s: RootState): boolean;
  press(store: Store): unknown;
  /** There is nothing to do it with. */
  idle?(s: RootState): boolean;
}

const tool = (name: string, icon: string, of: ToolName, also: ToolName = of): DeckTool => ({
  name,
  icon,
  toggles: true,
  on: (s) => s.tools.tool === of || s.tools.tool === also,
  press({ dispatch, getState }) {
    const { tool: now } = getState().tools;
    dispatch(toolChosen(now === of || now === also ? 'pen' : of));
  },
});

/** What does not always fit, the most used first. */
export const FURTHER_TOOLS: readonly DeckTool[] = [
  { name: 'Redo', icon: 'redo', toggles: false, on: () => false, press: ({ dispatch }) => dispatch(redo()), idle: (s) => s.note.redo.length === 0 },
  tool('Shapes', 'shapes', 'shapes', 'fill'),
  { name: 'Add', icon: 'plus', toggles: true, on: (s) => s.tools.sheet === 'add' || s.tools.tool === 'type', press: ({ dispatch, getState }) => dispatch(set({ sheet: getState().tools.sheet === 'add' ? 'none' : 'add' })) },
  tool('Make room', 'room', 'room'),
  { name: 'Writing strip', icon: 'strip', toggles: true, on: (s) => s.tools.strip, press: ({ dispatch }) => dispatch(turnStrip()) },
  { name: 'Ruler', icon: 'ruler', toggles: true, on: (s) => s.tools.ruler, press: ({ dispatch, getState }) => dispatch(set({ ruler: !getState().tools.ruler, sheet: 'none' })) },
  tool('Move the page', 'move', 'pan'),
];
const ERASER = tool('Eraser', 'eraser', 'eraser');
const LASSO = tool('Lasso', 'lasso', 'lasso');
const UNDO: DeckTool = { name: 'Undo', icon: 'undo', toggles: false, on: () => false, press: ({ dispatch }) => dispatch(undo()), idle: (s) => s.note.undo.length === 0 };

/** Which of them stand in the row. */
export function useToolsInRow(recording: boolean): { readonly inRow: readonly DeckTool[]; readonly behind: readonly DeckTool[]; readonly pens: boolean } {
  const { width, side } = useRoom();
  const { tools, pens } = side ? { tools: 0, pens: false } : toolsInRow(width, FURTHER_TOOLS.length, recording);
  return { inRow: FURTHER_TOOLS.slice(0, tools), behind: FURTHER_TOOLS.slice(tools), pens };
}

/** `recording`: the running recording takes its part of the row. */
export function WriteTools({ recording }: { recording: boolean }) {
  const { inRow, behind, pens } = useToolsInRow(recording);
  return (
    <>
      {pens ? <Pens /> : <PenInHand />}
      <ToolButton tool={ERASER} />
      <ToolButton tool={LASSO} />
      {inRow.filter((t) => t.name !== 'Redo').map((t) => (
        <ToolButton key={t.name} tool={t} />
      ))}
      <ToolButton tool={UNDO} />
      {inRow.some((t) => t.name === 'Redo') && <ToolButton tool={FURTHER_TOOLS[0]} />}
      {behind.length > 0 && <MoreButton behind={behind} />}
    </>
  );
}

export function ToolButton({ tool: t }: { tool: DeckTool }) {
  const store = useAppStore();
  const on = useAppSelector(t.on);
  const idle = useAppSelector((s) => s.note.following || (t.idle?.(s) ?? false));
  return <DeckButton name={t.name} icon={t.icon} toggles={t.toggles} on={on} disabled={idle} onPress={() => void t.press(store)} />;
}

/** Unfolds the rest; where a tool of the rest is in hand, it stands here. */
function MoreButton({ behind }: { behind: readonly DeckTool[] }) {
  const dispatch = useAppDispatch();
  const open = useAppSelector((s) => s.tools.sheet === 'more');
  const held = useAppSelector((s) => behind.find((t) => t.toggles && t.on(s))?.icon);
  return <DeckButton name="More tools" icon={open ? 'down' : (held ?? 'more')} toggles on={open || held !== undefined} onPress={() => dispatch(set({ sheet: open ? 'none' : 'more' }))} />;
}

const inHand = (s: RootState): PenSetting => s.settings.cup[Math.min(s.settings.pen, s.settings.cup.length - 1)];

/** A touch takes the pen back in hand, or unfolds the pens. */
function PenInHand() {
  const d = useAppDispatch();
  const pen = useAppSelector(inHand);
  const writes = useAppSelector((s) => s.tools.tool === 'pen' || s.tools.tool === 'shapes');
  const takes = useAppSelector((s) => s.tools.tool === 'pen');
  const open = useAppSelector((s) => s.tools.sheet === 'pens');
  const disabled = useAppSelector((s) => s.note.following);
  return <PenChip pen={pen} name={`Pens, ${takes ? 'in hand' : 'take'}`} on={writes} disabled={disabled} onPress={() => void d(takes ? set({ sheet: open ? 'none' : 'pens' }) : toolChosen('pen'))} />;
}

/** The whole cup, where there is room for it. */
function Pens() {
  const d = useAppDispatch();
  const { colors } = useTheme();
  const { cup, pen } = useAppSelector((s) => s.settings);
  const tool = useAppSelector((s) => s.tools.tool);
  const open = useAppSelector((s) => s.tools.sheet === 'pens');
  const following = useAppSelector((s) => s.note.following);
  const here = tool === 'pen' || tool === 'shapes';
  return (
    <View style={styles.pens}>
      <ScrollView horizontal style={styles.scroll} contentContainerStyle={styles.chips}>
        {cup.map((p, i) => {
          const on = here && i === Math.min(pen, cup.length - 1);
          return <PenChip key={p.id} pen={p} on={on} disabled={following} onPress={() => void d(on && tool === 'pen' ? set({ sheet: open ? 'none' : 'pens' }) : pickPen(i))} />;
        })}
      </ScrollView>
      <TouchableRipple role="button" aria-label="Colours and widths" aria-expanded={open} disabled={following} onPress={() => void d(set({ sheet: open ? 'none' : 'pens' }))} borderless style={[styles.ink, { borderColor: colors.outline }]}>
        <View style={[styles.drop, { backgroundColor: cup[Math.min(pen, cup.length - 1)].color }]} />
      </TouchableRipple>
    </View>
  );
}

const styles = StyleSheet.create({
  pens: { flexDirection: 'row', alignItems: 'center', gap: 4, flexShrink: 1, flexGrow: 1, minWidth: 0 },
  scroll: { flexGrow: 0, flexShrink: 1 },
  chips: { gap: 4, paddingVertical: 1 },
  ink: { width: 44, height: 44, borderRadius: 22, alignItems: 'center', justifyContent: 'center' },
  drop: { width: 24, height: 24, borderRadius: 12, borderWidth: 1 },
});
