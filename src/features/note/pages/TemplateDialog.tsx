/** Keeping a page as a template, and beginning a page as one. */
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text, TextInput } from 'react-native-paper';
import { isSticker } from '../../../core/note/template';
import { Dialog } from '../../../ui/Dialog';
import { addFromTemplate, dropTemplate, keepTemplate, loadTemplates } from '../../../store/templates';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { TemplatePicture } from './TemplatePicture';

/** `page`: the page to keep, where one is chosen; `at`: where a page from a template goes. */
export function TemplateDialog({ page, at, onDone }: { page: string | null; at: number; onDone: () => void }) {
  const dispatch = useAppDispatch();
  const templates = (useAppSelector((s) => s.templates) ?? []).filter((t) => !isSticker(t));
  const [name, setName] = useState('');
  useEffect(() => void dispatch(loadTemplates()), [dispatch]);
  const keep = () => {
    if (page && name.trim()) void dispatch(keepTemplate(page, name));
    setName('');
  };
  return (
      <Dialog onDismiss={onDone}>
        <Dialog.Title>Templates</Dialog.Title>
        <Dialog.Content style={styles.list}>
            {page && (
              <View style={styles.row}>
                <TextInput mode="outlined" dense label="Keep the chosen page as" accessibilityLabel="Name of the template" value={name} onChangeText={setName} maxLength={60} onSubmitEditing={keep} style={styles.grow} />
                <Button mode="contained" disabled={!name.trim()} onPress={keep}>
                  Keep
                </Button>
              </View>
            )}
            {templates.map((t) => (
              <View key={t.id} style={styles.row}>
                <TemplatePicture of={t} width={52} height={70} label={`Picture of the template ${t.name}`} />
                <Text style={styles.grow}>{t.name}</Text>
                <Button
                  mode="contained-tonal"
                  accessibilityLabel={`Add a page from ${t.name}`}
                  onPress={() => {
                    void dispatch(addFromTemplate(t.id, at));
                    onDone();
                  }}
                >
                  Add
                </Button>
                <Button accessibilityLabel={`Remove the template ${t.name}`} onPress={() => void dispatch(dropTemplate(t.id))}>
                  Remove
                </Button>
              </View>
            ))}
            {templates.length === 0 && <Text>{page ? 'No templates yet. Give the chosen page a name to keep it as one.' : 'No templates yet. Tick a page and open Templates to keep it as one.'}</Text>}
          </Dialog.Content>
        <Dialog.Actions>
          <Button onPress={onDone}>Done</Button>
        </Dialog.Actions>
      </Dialog>
  );
}

const styles = StyleSheet.create({
  list: { gap: 12, paddingVertical: 12 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 10 },
  grow: { flex: 1 },
});
