/** Pictures that were handed over, all of them together: how they look, and where they go. */
import { useEffect, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text } from 'react-native-paper';
import type { Place } from '../../store/bringing';
import { bringPictures, type PictureFile } from '../../store/bringPictures';
import { pixelsOf } from '../../platform/bringing/pictureIn';
import { pictureUrl } from '../../platform/shownUrl';
import { useAppDispatch } from '../../store/store';
import { OfferFoot } from './OfferFoot';
import { ScanOffer } from './ScanOffer';
import { useLook } from './useLook';
import './bringing.css';

export function PicturesOffer({ pictures, place, at, url, go, onDone }: { pictures: readonly PictureFile[]; place: Place; at: { page: string; x: number; y: number } | null; url: string | null; go: (note: string) => void; onDone: () => void }) {
  const dispatch = useAppDispatch();
  const [paper, setPaper] = useState(false);
  const [here, setHere] = useState(place.into !== null);
  const one = pictures.length === 1;
  // What this browser cannot show cannot be brought in either; the others can.
  const [broken, setBroken] = useState<ReadonlySet<File>>(new Set());
  const able = pictures.filter((p) => !broken.has(p.file));
  const bring = () => {
    void dispatch(bringPictures(able, { ...place, into: here ? place.into : null }, at, url, go));
    onDone();
  };
  if (paper) return <ScanOffer photos={pictures.map((p) => p.file)} place={{ ...place, into: here ? place.into : null }} go={go} onDone={onDone} />;
  return (
    <View role="group" aria-label={one ? pictures[0].file.name : `${pictures.length} pictures`} style={styles.offer}>
      <Text variant="titleMedium" numberOfLines={2}>
        {one ? pictures[0].file.name : `${pictures.length} pictures`}
      </Text>
      <View style={styles.row}>
        {pictures.map((picture, i) => (
          <Thumb key={i} {...picture} onBroken={() => setBroken((now) => (now.has(picture.file) ? now : new Set([...now, picture.file])))} />
        ))}
      </View>
      <OfferFoot choice={place.into !== null} here={here} hereWords="Onto this page" onHere={setHere} leaveOut={one ? 'Leave it out' : 'Leave them out'} onLeave={onDone} onBring={able.length ? bring : null}>
        {!pictures.some((p) => p.drawing) && <Button onPress={() => setPaper(true)}>Straighten as paper</Button>}
      </OfferFoot>
    </View>
  );
}

function Thumb({ file, drawing, onBroken }: PictureFile & { onBroken: () => void }) {
  const image = useRef<HTMLImageElement>(null);
  const look = useLook(file, (f) => pixelsOf(f, drawing));
  const [torn, setTorn] = useState(false);
  const shown = look.is === 'open' ? look.found : null;
  useEffect(() => {
    if (!shown) return undefined;
    const made = pictureUrl(shown);
    if (image.current) image.current.src = made;
    return () => URL.revokeObjectURL(made);
  }, [shown]);
  const why = look.is === 'broken' ? look.why : torn ? 'it is no picture that this browser can show' : null;
  useEffect(() => {
    if (why !== null) onBroken();
    // Told once.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [why]);
  if (why !== null) return <Text role="alert">{`“${file.name}” cannot be brought in: ${why}.`}</Text>;
  if (!shown) return <Text role="status">Looking …</Text>;
  return <img ref={image} alt={file.name} className="offer-thumb" onError={() => setTorn(true)} />;
}

const styles = StyleSheet.create({
  offer: { gap: 12 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
