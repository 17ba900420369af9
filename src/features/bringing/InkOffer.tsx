/** Ink of another program that was handed over: how much it is, and where it goes. */
import { useState } from 'react';
import { Text } from 'react-native-paper';
import type { Place } from '../../store/bringing';
import { bringInkFile, lookAtInk } from '../../store/bringInk';
import { useAppDispatch } from '../../store/store';
import { Offer } from './Offer';
import { OfferFoot } from './OfferFoot';
import { useLook } from './useLook';

const counted = (n: number, one: string): string => `${n.toLocaleString('en-GB')} ${n === 1 ? one : `${one}s`}`;

export function InkOffer({ file, place, go, onDone }: { file: File; place: Place; go: (note: string) => void; onDone: () => void }) {
  const dispatch = useAppDispatch();
  const look = useLook(file, (f) => dispatch(lookAtInk(f)));
  const [here, setHere] = useState(place.into !== null);
  return (
    <Offer name={file.name} look={look} looking="Reading the ink …" onLeave={onDone}>
      {(ink) => (
        <>
          <Text>{`${counted(ink.strokes, 'stroke')} on ${counted(ink.pages.length, 'page')}. ${ink.trueSize ? 'The ink keeps its size.' : 'The file does not say how large the ink is: it is laid out to fill the page.'}`}</Text>
          <OfferFoot
            choice={place.into !== null}
            here={here}
            hereWords="Into this note"
            onHere={setHere}
            leaveOut="Leave it out"
            onLeave={onDone}
            onBring={() => {
              void dispatch(bringInkFile(file, ink, { ...place, into: here ? place.into : null }, go));
              onDone();
            }}
          />
        </>
      )}
    </Offer>
  );
}
