/** Paper in photos, sheet by sheet: its corners, how it is to look, and all of them together as pages. */
import { useEffect, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ActivityIndicator, Button, SegmentedButtons, Text, useTheme } from 'react-native-paper';
import type { Corners } from '../../core/scan/homography';
import type { Ink } from '../../core/scan/straighten';
import { pictureUrl } from '../../platform/shownUrl';
import { endScanning, findPaper, straightenPaper } from '../../platform/bringing/scanIn';
import type { Place } from '../../store/bringing';
import { bringScans, type ScannedSheet } from '../../store/bringScans';
import { reasonOf } from '../../store/messages';
import { useAppDispatch } from '../../store/store';
import { CornerEditor } from './CornerEditor';

/** Where no sheet was found: a little within the photo. */
const BY_HAND: Corners = [[0.1, 0.1], [0.9, 0.1], [0.9, 0.9], [0.1, 0.9]];

type Step =
  | { readonly is: 'looking' }
  | { readonly is: 'corners'; readonly found: boolean }
  | { readonly is: 'straightening' }
  | { readonly is: 'sheet'; readonly sheet: ScannedSheet }
  | { readonly is: 'broken'; readonly why: string };

export function ScanOffer({ photos, place, go, onDone }: { photos: readonly File[]; place: Place; go: (note: string) => void; onDone: () => void }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const [at, setAt] = useState(0);
  const [done, setDone] = useState<readonly ScannedSheet[]>([]);
  const [corners, setCorners] = useState<Corners>(BY_HAND);
  const [ink, setInk] = useState<Ink>('colour');
  const [step, setStep] = useState<Step>({ is: 'looking' });
  const ahead = useRef<{ photo: File; corners: Corners; ink: Ink; sheet: Promise<ScannedSheet> } | null>(null);
  const inkNow = useRef<Ink>('colour');
  const photo = photos[at];
  const url = useUrl(photo);
  useEffect(() => {
    let wanted = true;
    findPaper(photo).then(
      (found) => {
        if (!wanted) return;
        setCorners(found.corners ?? BY_HAND);
        // Nearly always they are right: while one looks at them the sheet is made.
        if (found.corners) ahead.current = { photo, corners: found.corners, ink: inkNow.current, sheet: straightenPaper(photo, found.corners, inkNow.current) };
        ahead.current?.sheet.catch(() => undefined);
        setStep({ is: 'corners', found: found.corners !== null });
      },
      (e: unknown) => wanted && setStep({ is: 'broken', why: reasonOf(e) }),
    );
    return () => {
      wanted = false;
    };
  }, [photo]);
  useEffect(() => endScanning, []);
  const straighten = (as: Ink) => {
    setInk(as);
    inkNow.current = as;
    setStep({ is: 'straightening' });
    const made = ahead.current;
    const isMade = made?.photo === photo && made.corners === corners && made.ink === as;
    (isMade ? made.sheet : straightenPaper(photo, corners, as)).then(
      (sheet) => setStep({ is: 'sheet', sheet }),
      (e: unknown) => setStep(e instanceof Error && e.name === 'RangeError' ? { is: 'corners', found: false } : { is: 'broken', why: reasonOf(e) }),
    );
  };
  const next = (sheets: readonly ScannedSheet[]) => {
    if (at + 1 < photos.length) {
      setDone(sheets);
      setStep({ is: 'looking' });
      return setAt(at + 1);
    }
    if (sheets.length) void dispatch(bringScans(sheets, place, go));
    onDone();
  };
  const last = at + 1 === photos.length;
  return (
    <View role="group" aria-label="Paper from photos" style={styles.offer}>
      <Text variant="titleMedium">{photos.length === 1 ? 'Sheet of paper' : `Sheet ${at + 1} of ${photos.length}`}</Text>
      {(step.is === 'looking' || step.is === 'straightening') && (
        <View role="status" style={styles.row}>
          <ActivityIndicator />
          <Text>{step.is === 'looking' ? 'Looking for the sheet …' : 'Straightening …'}</Text>
        </View>
      )}
      {step.is === 'broken' && <Text role="alert" style={{ color: colors.error }}>{`“${photo.name}” cannot be brought in: ${step.why}.`}</Text>}
      {step.is === 'corners' && (
        <>
          <Text>{step.found ? 'Pull the corners where they are not right.' : 'No sheet was found for sure. Pull the corners to where they are.'}</Text>
          {url && <CornerEditor url={url} corners={corners} onChange={setCorners} />}
        </>
      )}
      {step.is === 'sheet' && (
        <>
          <SheetPicture sheet={step.sheet} />
          <SegmentedButtons
            value={ink}
            onValueChange={(v) => straighten(v as Ink)}
            buttons={[
              { value: 'colour', label: 'Colour' },
              { value: 'grey', label: 'Grey' },
              { value: 'black', label: 'Black' },
            ]}
          />
        </>
      )}
      <View style={styles.buttons}>
        <Button onPress={() => next(done)}>Leave it out</Button>
        {step.is === 'sheet' && <Button onPress={() => setStep({ is: 'corners', found: true })}>Corners</Button>}
        {step.is === 'corners' && (
          <Button mode="contained" onPress={() => straighten(ink)}>
            Straighten
          </Button>
        )}
        {step.is === 'sheet' && (
          <Button mode="contained" onPress={() => next([...done, step.sheet])}>
            {last ? 'Bring in' : 'Next sheet'}
          </Button>
        )}
      </View>
    </View>
  );
}

/** The address of a file, for as long as it is shown. */
function useUrl(file: Blob): string | null {
  const [url, setUrl] = useState<string | null>(null);
  const [of, setOf] = useState<Blob | null>(null);
  if (of !== file) {
    setOf(file);
    setUrl(pictureUrl(file));
  }
  useEffect(() => (url === null ? undefined : () => URL.revokeObjectURL(url)), [url]);
  return url;
}

function SheetPicture({ sheet }: { sheet: ScannedSheet }) {
  const image = useRef<HTMLImageElement>(null);
  useEffect(() => {
    const url = pictureUrl(sheet.bytes);
    if (image.current) image.current.src = url;
    return () => URL.revokeObjectURL(url);
  }, [sheet]);
  return <img ref={image} alt="The straightened sheet" className="scan-result" />;
}

const styles = StyleSheet.create({
  offer: { gap: 12 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 14 },
  buttons: { flexDirection: 'row', justifyContent: 'flex-end', flexWrap: 'wrap', gap: 6 },
});
