/** A PDF that was handed over: how many pages, how the first looks, which of them are wanted, and where they go. */
import { useEffect, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ActivityIndicator, Button, Text, TextInput, useTheme } from 'react-native-paper';
import { namedPages, sheetOf } from '../../core/pdf/leaf';
import { PdfFile, PdfPasswordError, sourceOf } from '../../platform/pdf/pdfFile';
import { bringPdf, MOST_LEAVES, type Place } from '../../store/bringing';
import { reasonOf } from '../../store/messages';
import { useAppDispatch } from '../../store/store';
import { PassphraseField } from '../../ui/PassphraseField';
import { OfferFoot } from './OfferFoot';
import './bringing.css';

/** The picture of the first page, px. */
const [WIDE, HIGH] = [120, 150];
/** So long its picture is waited for, ms. */
const PICTURE_MS = 8000;

type Look = { readonly is: 'looking' } | { readonly is: 'locked'; readonly wrong: boolean } | { readonly is: 'broken'; readonly why: string } | { readonly is: 'open'; readonly pages: number; readonly picture: ImageBitmap | null };

export function PdfOffer({ file, place, go, onDone }: { file: File; place: Place; go: (note: string) => void; onDone: () => void }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const [password, setPassword] = useState<string | null>(null);
  const [typed, setTyped] = useState('');
  const [look, setLook] = useState<Look>({ is: 'looking' });
  const [which, setWhich] = useState('');
  const [here, setHere] = useState(place.into !== null);
  useEffect(() => {
    let wanted = true;
    const see = async () => {
      const pdf = await PdfFile.open(sourceOf(file), password);
      try {
        if (pdf.pages > MOST_LEAVES) throw new Error(`it says it has ${pdf.pages} pages, and ${MOST_LEAVES} are the most`);
        const [size] = await pdf.sizes(0, 1);
        const { w, h } = sheetOf(size.w, size.h);
        const dpr = Math.min(3, window.devicePixelRatio || 1);
        // A page that cannot be drawn can still be brought in and written on.
        const picture = await pdf.draw(0, Math.min(WIDE / w, HIGH / h) * dpr, [0, 0, w, h], PICTURE_MS).catch(() => null);
        if (wanted) setLook({ is: 'open', pages: pdf.pages, picture });
      } finally {
        pdf.close();
      }
    };
    see().catch((e: unknown) => wanted && setLook(e instanceof PdfPasswordError ? { is: 'locked', wrong: e.wrong } : { is: 'broken', why: reasonOf(e) }));
    return () => {
      wanted = false;
    };
  }, [file, password]);
  const tryPassword = () => {
    if (!typed) return;
    setLook({ is: 'looking' });
    setPassword(typed);
    setTyped('');
  };
  const chosen = look.is === 'open' ? namedPages(which, look.pages) : null;
  const bring = () => {
    if (!chosen) return;
    void dispatch(bringPdf(file, password, chosen, { ...place, into: here ? place.into : null }, go));
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
          <Text>Opening the PDF …</Text>
        </View>
      )}
      {look.is === 'broken' && (
        <View role="alert" style={styles.row}>
          <Text style={[styles.grow, { color: colors.error }]}>{`It cannot be brought in: ${look.why}. Nothing was changed.`}</Text>
          <Button onPress={onDone}>Leave it out</Button>
        </View>
      )}
      {look.is === 'locked' && (
        <>
          <Text role={look.wrong ? 'alert' : undefined}>{look.wrong ? 'That is not its password. Try again.' : 'This PDF is locked. Its password is kept with the note, so that its pages can be shown.'}</Text>
          <PassphraseField label="Password of the PDF" value={typed} onChange={setTyped} onEnter={tryPassword} autoFocus />
          <View style={styles.buttons}>
            <Button onPress={onDone}>Leave it out</Button>
            <Button mode="contained" disabled={!typed} onPress={tryPassword}>
              Open
            </Button>
          </View>
        </>
      )}
      {look.is === 'open' && (
        <>
          <View style={styles.row}>
            <Picture bitmap={look.picture} label={`First page of ${file.name}`} />
            <View style={styles.side}>
              <Text>{look.pages === 1 ? '1 page' : `${look.pages} pages`}</Text>
              {look.pages > 1 && (
                <TextInput mode="outlined" dense label="Pages" accessibilityLabel="Pages to bring in, such as 1-3, 7" placeholder="all, or 1-3, 7" value={which} onChangeText={setWhich} error={chosen === null} onSubmitEditing={bring} />
              )}
              {chosen === null && (
                <Text role="alert" style={{ color: colors.error }}>
                  {`Name pages from 1 to ${look.pages}, such as 1-3, 7.`}
                </Text>
              )}
            </View>
          </View>
          <OfferFoot choice={place.into !== null} here={here} hereWords="Into this note" onHere={setHere} leaveOut="Leave it out" onLeave={onDone} onBring={chosen && bring} bringIn={chosen && chosen.length !== look.pages ? `Bring in ${chosen.length} ${chosen.length === 1 ? 'page' : 'pages'}` : undefined} />
        </>
      )}
    </View>
  );
}

function Picture({ bitmap, label }: { bitmap: ImageBitmap | null; label: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (!bitmap || !canvas.current) return;
    [canvas.current.width, canvas.current.height] = [bitmap.width, bitmap.height];
    canvas.current.getContext('2d')!.drawImage(bitmap, 0, 0);
  }, [bitmap]);
  if (!bitmap) return null;
  const dpr = Math.min(3, window.devicePixelRatio || 1);
  return <canvas ref={canvas} role="img" aria-label={label} className="offer-picture" style={{ width: bitmap.width / dpr, height: bitmap.height / dpr }} />;
}

const styles = StyleSheet.create({
  offer: { gap: 12 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 14 },
  grow: { flex: 1 },
  side: { flex: 1, gap: 8 },
  buttons: { flexDirection: 'row', justifyContent: 'flex-end', gap: 6 },
});
