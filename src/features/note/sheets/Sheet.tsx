/** What is set over the end of the page until it is put away: at the bottom on a phone, at the side where there is room. */
import { StyleSheet, View } from 'react-native';
import { IconButton, Text } from 'react-native-paper';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch } from '../../../store/store';
import { Dialog, useDialogName } from '../../../ui/Dialog';
import { Range } from '../../../ui/Range';

/** `head` stays in sight while the rest scrolls. */
export function Sheet({ title, head, onBack, children }: { title: string; head?: React.ReactNode; onBack?: () => void; children: React.ReactNode }) {
  const dispatch = useAppDispatch();
  const close = () => void dispatch(toolsSlice.actions.set({ sheet: 'none' }));
  return (
    <Dialog kind="sheet" onDismiss={close}>
      <SheetHead title={title} onBack={onBack} onClose={close} />
      {head}
      <Dialog.Content style={styles.inner}>{children}</Dialog.Content>
    </Dialog>
  );
}

function SheetHead({ title, onBack, onClose }: { title: string; onBack?: () => void; onClose: () => void }) {
  return (
    <View style={styles.top}>
      {onBack && <IconButton icon="back" aria-label="Back" onPress={onBack} style={styles.icon} />}
      <Text nativeID={useDialogName()} variant="titleMedium" role="heading" aria-level={2} style={styles.title}>
        {title}
      </Text>
      <IconButton icon="close" aria-label={`Close ${title}`} onPress={onClose} style={styles.icon} />
    </View>
  );
}

/** A value to slide, with its name and the value in words. */
export function Slide({ name, value, text, min, max, step, onChange }: { name: string; value: number; text: string; min: number; max: number; step: number; onChange: (value: number) => void }) {
  return (
    <View>
      <View style={styles.line}>
        <Text>{name}</Text>
        <Text style={styles.value}>{text}</Text>
      </View>
      <Range label={name} min={min} max={max} step={step} value={value} text={text} onChange={onChange} />
    </View>
  );
}

const styles = StyleSheet.create({
  top: { flexDirection: 'row', alignItems: 'center', paddingLeft: 16, minHeight: 48 },
  title: { flex: 1 },
  icon: { margin: 0, width: 44, height: 44 },
  inner: { paddingBottom: 16, gap: 8 },
  line: { flexDirection: 'row', justifyContent: 'space-between', marginTop: 2 },
  value: { fontVariant: ['tabular-nums'], fontWeight: '700' },
});
