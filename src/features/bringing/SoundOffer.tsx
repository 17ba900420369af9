/** Sound that was handed over: how long it is, and where it goes. */
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ActivityIndicator, Button, Switch, Text, useTheme } from 'react-native-paper';
import { spokenTime } from '../../core/time/format';
import { lookAtSound } from '../../platform/bringing/soundIn';
import type { Place } from '../../store/bringing';
import { bringSoundFile, LARGEST_FILM } from '../../store/bringSound';
import { reasonOf } from '../../store/messages';
import { useAppDispatch } from '../../store/store';
import { OfferFoot } from './OfferFoot';

const mb = (bytes: number): string => (bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${Math.round(bytes / 1e6)} MB`);

type Look = { readonly is: 'looking' } | { readonly is: 'broken'; readonly why: string } | { readonly is: 'open'; readonly ms: number; readonly film: boolean };

export function SoundOffer({ file, place, go, onDone }: { file: File; place: Place; go: (note: string) => void; onDone: () => void }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const [look, setLook] = useState<Look>({ is: 'looking' });
  const [here, setHere] = useState(place.into !== null);
  const [film, setFilm] = useState(true);
  const tooLarge = file.size > LARGEST_FILM;
  useEffect(() => {
    let wanted = true;
    lookAtSound(file).then(({ ms, film = false }) => wanted && setLook({ is: 'open', ms, film }), (e: unknown) => wanted && setLook({ is: 'broken', why: reasonOf(e) }));
    return () => {
      wanted = false;
    };
  }, [file]);
  const bring = () => {
    void dispatch(bringSoundFile(file, look.is === 'open' && look.film && film && !tooLarge, { ...place, into: here ? place.into : null }, go));
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
          {look.film && tooLarge && <Text>{`The film itself has ${mb(file.size)}, and ${mb(LARGEST_FILM)} are the most that is kept: its sound alone comes in.`}</Text>}
          {look.film && !tooLarge && (
            <View style={styles.row}>
              <Text style={styles.grow}>{`Keep the film too, to be seen in a small window (${mb(file.size)})`}</Text>
              <Switch value={film} onValueChange={setFilm} accessibilityLabel="Keep the film too" />
            </View>
          )}
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
