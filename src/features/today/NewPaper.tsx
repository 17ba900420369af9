/** The paper that new notes begin with, chosen apart for those with and without sound. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, SegmentedButtons } from 'react-native-paper';
import { Dialog } from '../../ui/Dialog';
import { settingsSlice } from '../../store/slices';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { paperFor } from '../../store/newPaper';
import { PaperControls } from '../../ui/paper/PaperControls';
import { formWords } from '../../ui/paper/names';
import { PaperPreview } from '../../ui/paper/PaperPreview';

const NO_INK = [] as const;

export function NewPaper() {
  const dispatch = useAppDispatch();
  const papers = useAppSelector((s) => s.settings.papers);
  const [open, setOpen] = useState(false);
  const [kind, setKind] = useState<'recorded' | 'written'>('recorded');
  const form = useAppSelector((s) => paperFor(s, kind));
  const recorded = useAppSelector((s) => paperFor(s, 'recorded'));
  return (
    <>
      <Button icon="paper" compact onPress={() => setOpen(true)} accessibilityLabel={`Paper: ${formWords(recorded)}`} style={styles.button}>
        {`Paper: ${formWords(recorded)}`}
      </Button>
        {open && (
        <Dialog onDismiss={() => setOpen(false)}>
          <Dialog.Title>Paper of new notes</Dialog.Title>
          <Dialog.Content style={styles.inner}>
              <View style={styles.head}>
                <PaperPreview form={form} placed={NO_INK} width={90} height={110} label="A sheet of this paper" />
                <SegmentedButtons
                  value={kind}
                  onValueChange={(v) => setKind(v as typeof kind)}
                  buttons={[
                    { value: 'recorded', label: 'With sound' },
                    { value: 'written', label: 'Without' },
                  ]}
                  style={styles.kinds}
                />
              </View>
              <PaperControls key={kind} form={form} onChange={(next) => dispatch(settingsSlice.actions.patched({ papers: { ...papers, [kind]: next } }))} />
            </Dialog.Content>
          <Dialog.Actions>
            <Button onPress={() => setOpen(false)}>Done</Button>
          </Dialog.Actions>
        </Dialog>
      )}
    </>
  );
}

const styles = StyleSheet.create({
  button: { alignSelf: 'flex-start' },
  inner: { paddingVertical: 10, gap: 14 },
  head: { flexDirection: 'row', gap: 14, alignItems: 'center' },
  kinds: { flex: 1 },
});
