/** What comes out, as it will be: pages of a PDF drawn from the file itself, pictures, text. */
import { useEffect, useMemo, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { IconButton, Text } from 'react-native-paper';
import type { Preview } from '../../core/formats/exporter';
import { sheetOf } from '../../core/pdf/leaf';
import { PdfFile, sourceOf } from '../../platform/pdf/pdfFile';
import { typedUrl } from '../../platform/shownUrl';
import type { Made } from '../../store/handOn';
import { reasonOf } from '../../store/messages';
import './handing.css';

/** Room for a picture, px. */
const [WIDE, HIGH] = [300, 300];
/** So much of a text is shown. */
const LETTERS = 3000;

export function MadePreview({ made, kind }: { made: Made; kind: Preview }) {
  const [at, setAt] = useState(0);
  const [pages, setPages] = useState(1);
  const pictures = kind === 'picture' ? made.files.filter((f) => f.type.startsWith('image/')) : [];
  const pdfs = kind === 'pdf' ? made.files.filter((f) => f.type === 'application/pdf') : [];
  const shown = made.files.map((f) => f.shown).find((s) => s !== undefined);
  const count = pictures.length || pages;
  return (
    <View role="group" aria-label="What comes out" style={styles.all}>
      {pdfs.length > 0 && <PdfPage blob={pdfs[0].blob} at={at} onCount={setPages} />}
      {pictures.length > 0 && <Picture key={at} blob={pictures[Math.min(at, pictures.length - 1)].blob} label={`Picture ${at + 1} of what comes out`} />}
      {shown !== undefined && (
        <pre className="made-text" tabIndex={0} aria-label="Text of what comes out">
          {shown.length > LETTERS ? `${shown.slice(0, LETTERS)} …` : shown}
        </pre>
      )}
      {count > 1 && (pdfs.length > 0 || pictures.length > 0) && (
        <View style={styles.turn}>
          <IconButton icon="back" aria-label="Page before" disabled={at === 0} onPress={() => setAt(at - 1)} />
          <Text aria-live="polite">{`${at + 1} / ${count}`}</Text>
          <IconButton icon="forward" aria-label="Next page" disabled={at >= count - 1} onPress={() => setAt(at + 1)} />
        </View>
      )}
    </View>
  );
}

function Picture({ blob, label }: { blob: Blob; label: string }) {
  const url = useMemo(() => typedUrl(blob, blob.type), [blob]);
  useEffect(() => () => URL.revokeObjectURL(url), [url]);
  return <img className="made-picture" src={url} alt={label} />;
}

function PdfPage({ blob, at, onCount }: { blob: Blob; at: number; onCount: (n: number) => void }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [pdf, setPdf] = useState<PdfFile | null>(null);
  const [why, setWhy] = useState<string | null>(null);
  useEffect(() => {
    let here = true;
    let opened: PdfFile | null = null;
    PdfFile.open(sourceOf(blob)).then(
      (file) => {
        opened = file;
        if (!here) return file.close();
        onCount(file.pages);
        setPdf(file);
      },
      (e: unknown) => here && setWhy(reasonOf(e)),
    );
    return () => {
      here = false;
      opened?.close();
    };
  }, [blob, onCount]);
  useEffect(() => {
    if (!pdf) return;
    let here = true;
    const draw = async () => {
      const [size] = await pdf.sizes(at, at + 1);
      const { w, h } = sheetOf(size.w, size.h);
      const dpr = Math.min(3, window.devicePixelRatio || 1);
      const bitmap = await pdf.draw(at, Math.min(WIDE / w, HIGH / h) * dpr, [0, 0, w, h]);
      if (!here || !canvas.current) return bitmap.close();
      [canvas.current.width, canvas.current.height] = [bitmap.width, bitmap.height];
      canvas.current.style.width = `${bitmap.width / dpr}px`;
      canvas.current.getContext('2d')!.drawImage(bitmap, 0, 0);
      canvas.current.dataset.page = String(at + 1);
      bitmap.close();
    };
    draw().catch((e: unknown) => here && !(e instanceof DOMException && e.name === 'AbortError') && setWhy(reasonOf(e)));
    return () => {
      here = false;
    };
  }, [pdf, at]);
  if (why !== null) return <Text>{`It cannot be shown here: ${why}.`}</Text>;
  return <canvas ref={canvas} role="img" aria-label={`Page ${at + 1} of what comes out`} className="made-picture" />;
}

const styles = StyleSheet.create({ all: { alignItems: 'center', gap: 4 }, turn: { flexDirection: 'row', alignItems: 'center', gap: 8 } });
