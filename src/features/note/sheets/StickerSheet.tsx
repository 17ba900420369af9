/** Stickers at hand: the writer's own, named, and those that ship. What is selected can be kept as one. */
import { useEffect, useState } from 'react';
import { Image, ScrollView, StyleSheet, View } from 'react-native';
import { Button, Text, TextInput, TouchableRipple } from 'react-native-paper';
import { STICKERS, stickerFile } from '../../../core/stickers';
import { addOwnSticker, addSticker, keepSticker, ownStickers } from '../../../store/stickers';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { dropTemplate, loadTemplates } from '../../../store/templates';
import { selected } from '../../../store/tools';
import { Dialog } from '../../../ui/Dialog';
import { TemplatePicture } from '../pages/TemplatePicture';

export function StickerSheet() {
  const dispatch = useAppDispatch();
  const own = ownStickers(useAppSelector((s) => s.templates));
  const some = useAppSelector((s) => selected(s).length > 0);
  const [name, setName] = useState('');
  useEffect(() => void dispatch(loadTemplates()), [dispatch]);
  const done = () => dispatch(toolsSlice.actions.set({ sheet: 'none' }));
  const keep = () => {
    if (!name.trim()) return;
    void dispatch(keepSticker(name));
    done();
  };
  return (
    <Dialog onDismiss={done} onEnter={keep}>
      <Dialog.Title>Stickers</Dialog.Title>
      <Dialog.Content style={styles.all}>
        {some && (
          <View style={styles.row}>
            <TextInput mode="outlined" dense label="Keep the selection as" accessibilityLabel="Name of the sticker" value={name} onChangeText={setName} maxLength={60} style={styles.grow} />
            <Button mode="contained" disabled={!name.trim()} onPress={keep}>
              Keep
            </Button>
          </View>
        )}
        <ScrollView style={styles.scroll}>
          {own.length > 0 && (
            <View role="group" aria-label="Your own stickers" style={styles.own}>
              {own.map((s) => (
                <View key={s.id} style={styles.row}>
                  <TouchableRipple
                    role="button"
                    aria-label={`Put ${s.name} onto the page`}
                    onPress={() => {
                      done();
                      void dispatch(addOwnSticker(s));
                    }}
                    style={styles.grow}
                  >
                    <View style={styles.row}>
                      <TemplatePicture of={s} width={64} height={44} label={`Picture of ${s.name}`} />
                      <Text style={styles.grow}>{s.name}</Text>
                    </View>
                  </TouchableRipple>
                  <Button compact accessibilityLabel={`Remove the sticker ${s.name}`} onPress={() => void dispatch(dropTemplate(s.id))}>
                    Remove
                  </Button>
                </View>
              ))}
            </View>
          )}
          <View role="group" aria-label="Shipped stickers" style={styles.grid}>
            {STICKERS.map((sticker) => (
              <TouchableRipple
                key={sticker}
                role="button"
                aria-label={`Put the ${sticker} onto the page`}
                onPress={() => {
                  done();
                  void dispatch(addSticker(sticker));
                }}
                borderless
                style={styles.one}
              >
                <Image source={{ uri: stickerFile(sticker) }} alt="" style={styles.picture} />
              </TouchableRipple>
            ))}
          </View>
          {!some && own.length === 0 && <Text variant="bodySmall">Take hold of anything with the lasso and open Sticker: it can be kept here under a name.</Text>}
        </ScrollView>
      </Dialog.Content>
      <Dialog.Actions>
        <Button onPress={done}>Close</Button>
      </Dialog.Actions>
    </Dialog>
  );
}

const styles = StyleSheet.create({
  all: { gap: 12 },
  scroll: { maxHeight: 380 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 10 },
  grow: { flex: 1 },
  own: { gap: 6, paddingBottom: 10 },
  grid: { flexDirection: 'row', flexWrap: 'wrap', gap: 4 },
  one: { width: 48, height: 48, borderRadius: 10, alignItems: 'center', justifyContent: 'center' },
  picture: { width: 36, height: 36 },
});
