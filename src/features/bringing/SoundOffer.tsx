/** Sound that was handed over: how long it is, and where it goes. */
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ActivityIndicator, Button, Text, useTheme } from 'react-native-paper';
import { spokenTime } from '../../core/time/format';
import { lookAtSound } from '../../platform/bringing/soundIn';
import type { Place } from '../../store/bringing';
import { bringSoundFile } from '../../store/bringSound';
import { reasonOf } from '../../store/messages';
import { useAppDispatch } from '../../store/store';
import { OfferFoot } from './OfferFoot';

type Look = { readonly is: 'looking' } | { readonly is: 'broken'; readonly why: string } | { readonly is: 'open'; readonly ms: number };

export function SoundOffer({ file, place, go, onDone }: { file: File; place: Place; go: (note: string) => void; onDone: () => void }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const [look, setLook] = useState<Look>({ is: 'looking' });
  const [here, setHere] = useState(place.into !== null);
  useEffect(() => {
    let wanted = true;
    lookAtSound(file).then(({ ms }) => wanted && setLook({ is: 'open', ms }), (e: unknown) => wanted && setLook({ is: 'broken', why: reasonOf(e) }));
    return () => {
      wanted = false;
    };
  }, [file]);
  const bring = () => {
    void dispatch(bringSoundFile(file, { ...place, into: here ? place.into : null }, go));
    onDone();
  };
  return (
    <View role="group" aria-label={file.name} style={styles.offer}>
      <Text variant="titleMedium" numberOfLines={2}>
        {file.name}
      </Text>
      {look.is === 'looking' && (
        <View role="status" style={styles.row}>
          <ActivityIndicator />
          <Text>Listening into the file …</Text>
        </View>
      )}
      {look.is === 'broken' && (
        <View role="alert" style={styles.row}>
          <Text style={[styles.grow, { color: colors.error }]}>{`It cannot be brought in: ${look.why}. Nothing was changed.`}</Text>
          <Button onPress={onDone}>Leave it out</Button>
        </View>
      )}
      {look.is === 'open' && (
        <>
          <Text>{`${spokenTime(look.ms)} of sound. It becomes a take: what is written while it plays is linked to it as if it had been recorded.`}</Text>
          <OfferFoot choice={place.into !== null} here={here} hereWords="Into this note" onHere={setHere} leaveOut="Leave it out" onLeave={onDone} onBring={bring} />
        </>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  offer: { gap: 12 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 14 },
  grow: { flex: 1 },
});
