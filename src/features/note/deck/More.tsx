/** What the deck's row has no place for, unfolded over the end of the page. */
import { ScrollView, StyleSheet, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import { toolsSlice } from '../../../store/slices';
import { addBoard } from '../../../store/boards';
import { askForLink } from '../../../store/refs';
import { addSlip } from '../../../store/slips';
import { useAppDispatch, useAppSelector, useAppStore } from '../../../store/store';
import { Icon } from '../../../ui/icons';
import { textPx } from '../../../ui/textScale';
import { useRoom } from '../../../ui/useRoom';
import { inlineListening, inlineRecording } from './fit';
import { Flow, Marking, PauseLength, Showing, Skipping } from './ListenTools';
import { useToolsInRow, type DeckTool } from './WriteTools';

export function More() {
  const { colors } = useTheme();
  const mode = useAppSelector((s) => s.note.mode);
  const { wide, width, side } = useRoom();
  const roomy = !side && inlineListening(width);
  const pauseMs = useAppSelector((s) => s.settings.pauseMs);
  const skips = useAppSelector((s) => s.settings.skipPauses);
  return (
    <View role="group" aria-label="More tools" style={[styles.all, wide && styles.wide, { backgroundColor: colors.surface, borderColor: colors.outlineVariant }]}>
      <ScrollView style={styles.scroll} contentContainerStyle={styles.inner}>
        {mode === 'write' ? (
          <Tiles />
        ) : (
          <>
            {!roomy && <Marking />}
            {!roomy && <Flow />}
            {wide ? <PauseLength ms={pauseMs} shown={skips} /> : <Skipping />}
            <Showing />
          </>
        )}
      </ScrollView>
    </View>
  );
}

/** What can be put onto the page, where the row has its button. */
export function Adding() {
  const { colors } = useTheme();
  const { wide } = useRoom();
  return (
    <View style={[styles.all, wide && styles.wide, { backgroundColor: colors.surface, borderColor: colors.outlineVariant }]}>
      <View style={styles.inner}>
        <AddTiles />
      </View>
    </View>
  );
}

function AddTiles() {
  const dispatch = useAppDispatch();
  const typing = useAppSelector((s) => s.tools.tool === 'type');
  const idle = useAppSelector((s) => s.note.following);
  return (
    <View role="group" aria-label="Add" style={styles.tiles}>
      <Plain name="Typed text" icon="typed" on={typing} toggles disabled={idle} onPress={() => dispatch(toolsSlice.actions.toolChosen(typing ? 'pen' : 'type'))} />
      <Plain name="Sticky note" icon="slip" disabled={idle} onPress={() => dispatch(addSlip())} />
      <Plain name="Table" icon="table" disabled={idle} onPress={() => dispatch(toolsSlice.actions.set({ sheet: 'table' }))} />
      <Plain name="Sticker" icon="sticker" disabled={idle} onPress={() => dispatch(toolsSlice.actions.set({ sheet: 'sticker' }))} />
      <Plain
        name="Axes"
        icon="axes"
        disabled={idle}
        onPress={() => {
          // With none in hand new ones are put down.
          dispatch(toolsSlice.actions.set({ selection: null, sheet: 'axes' }));
        }}
      />
      <Plain name="Board" icon="board" disabled={idle} onPress={() => dispatch(addBoard())} />
      <Plain name="Link" icon="link" disabled={idle} onPress={() => dispatch(askForLink())} />
    </View>
  );
}

function Tiles() {
  const dispatch = useAppDispatch();
  const recording = useAppSelector((s) => s.recording.state !== 'idle');
  const { width, side } = useRoom();
  const { behind } = useToolsInRow(!side && recording && inlineRecording(width));
  return (
    <>
    <View style={styles.tiles}>
      {behind.map((t) => (t.name === 'Add' ? null : <Tile key={t.name} tool={t} />))}
      <Plain name="Pen cup" icon="cup" onPress={() => dispatch(toolsSlice.actions.set({ sheet: 'cup' }))} />
      <Plain name="Keys" icon="keys" onPress={() => dispatch(toolsSlice.actions.set({ sheet: 'keys' }))} />
    </View>
    {behind.some((t) => t.name === 'Add') && (
      <>
        <Text variant="titleSmall">Add</Text>
        <AddTiles />
      </>
    )}
    </>
  );
}

function Tile({ tool }: { tool: DeckTool }) {
  const store = useAppStore();
  const on = useAppSelector(tool.on);
  const idle = useAppSelector((s) => s.note.following || (tool.idle?.(s) ?? false));
  return <Plain name={tool.name} icon={tool.icon} on={on} toggles={tool.toggles} disabled={idle} onPress={() => void tool.press(store)} />;
}

function Plain({ name, icon, on = false, toggles = false, disabled = false, onPress }: { name: string; icon: string; on?: boolean; toggles?: boolean; disabled?: boolean; onPress: () => void }) {
  const { colors } = useTheme();
  const color = on ? colors.onSecondary : colors.onSurface;
  return (
    <TouchableRipple role="button" aria-label={name} aria-pressed={toggles ? on : undefined} disabled={disabled} onPress={onPress} borderless style={[styles.tile, { opacity: disabled ? 0.38 : 1 }, on && { backgroundColor: colors.secondary }]}>
      <View style={styles.tileInner}>
        <Icon name={icon} color={color} />
        <Text numberOfLines={1} style={[styles.word, { color }]}>
          {name}
        </Text>
      </View>
    </TouchableRipple>
  );
}

const styles = StyleSheet.create({
  all: { borderTopWidth: 1, pointerEvents: 'auto', maxHeight: '100%' },
  wide: { alignSelf: 'flex-end', marginRight: 8, borderWidth: 1, borderRadius: 14, marginBottom: 6 },
  scroll: { flexGrow: 0, flexShrink: 1 },
  inner: { paddingHorizontal: 8, paddingVertical: 6, gap: 6 },
  tiles: { flexDirection: 'row', flexWrap: 'wrap', gap: 4 },
  tile: { width: 88, minHeight: 56, borderRadius: 12, justifyContent: 'center' },
  tileInner: { alignItems: 'center', gap: 3 },
  word: { fontSize: textPx(12), lineHeight: textPx(14) },
});
