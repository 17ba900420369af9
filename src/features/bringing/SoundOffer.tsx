/** Sound that was handed over: how long it is, and where it goes. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Switch, Text } from 'react-native-paper';
import { spokenTime } from '../../core/time/format';
import { lookAtSound } from '../../platform/bringing/soundIn';
import type { Place } from '../../store/bringing';
import { bringSoundFile, LARGEST_FILM } from '../../store/bringSound';
import { useAppDispatch } from '../../store/store';
import { Offer } from './Offer';
import { OfferFoot } from './OfferFoot';
import { useLook } from './useLook';

const mb = (bytes: number): string => (bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${Math.round(bytes / 1e6)} MB`);

export function SoundOffer({ file, place, go, onDone }: { file: File; place: Place; go: (note: string) => void; onDone: () => void }) {
  const dispatch = useAppDispatch();
  const look = useLook(file, lookAtSound);
  const [here, setHere] = useState(place.into !== null);
  const [film, setFilm] = useState(true);
  const tooLarge = file.size > LARGEST_FILM;
  const bring = (isFilm: boolean) => {
    void dispatch(bringSoundFile(file, isFilm && film && !tooLarge, { ...place, into: here ? place.into : null }, go));
    onDone();
  };
  return (
    <Offer name={file.name} look={look} looking="Listening into the file …" onLeave={onDone}>
      {({ ms, film: isFilm = false }) => (
        <>
          <Text>{`${spokenTime(ms)} of sound. It becomes a take: what is written while it plays is linked to it as if it had been recorded.`}</Text>
          {isFilm && tooLarge && <Text>{`The film itself has ${mb(file.size)}, and ${mb(LARGEST_FILM)} are the most that is kept: its sound alone comes in.`}</Text>}
          {isFilm && !tooLarge && (
            <View style={styles.row}>
              <Text style={styles.grow}>{`Keep the film too, to be seen in a small window (${mb(file.size)})`}</Text>
              <Switch value={film} onValueChange={setFilm} accessibilityLabel="Keep the film too" />
            </View>
          )}
          <OfferFoot choice={place.into !== null} here={here} hereWords="Into this note" onHere={setHere} leaveOut="Leave it out" onLeave={onDone} onBring={() => bring(isFilm)} />
        </>
      )}
    </Offer>
  );
}

const styles = StyleSheet.create({ row: { flexDirection: 'row', alignItems: 'center', gap: 14 }, grow: { flex: 1 } });
