/** Bringing files in: choosing them, saying of each what it is and what becomes of it. One sheet for the whole program, over whatever is on the screen. */
import { useRouter, type Href } from 'expo-router';
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ActivityIndicator, Button, IconButton, Text, useTheme } from 'react-native-paper';
import type { FileKind } from '../../core/bring/fileKind';
import { chooseFiles, pieceOfScreen } from '../../platform/files';
import { handOver, lookAt, offered, shutBringing } from '../../store/bringing';
import { reasonOf } from '../../store/messages';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { Dialog } from '../../ui/Dialog';
import { Icon } from '../../ui/icons';
import { InkOffer } from './InkOffer';
import { PicturesOffer } from './PicturesOffer';
import { SoundOffer } from './SoundOffer';
import { PdfOffer } from './PdfOffer';
import { useHandedFiles } from './useHandedFiles';

/** All that can be brought in, for the browser's own choice of files. */
const ACCEPTED = '.pdf,application/pdf,image/*,.heic,audio/*,video/mp4,video/webm,.inkml,application/inkml+xml';

/** Kinds that are known and go another way. */
const OTHERS: Readonly<Record<string, string>> = {
  heic: 'browsers cannot show HEIC pictures. Have the phone save it as JPEG (its camera settings, “most compatible”), or send it to yourself, which makes it one',
  bundle: 'bundles and backups come back under Settings, Restore',
};

interface Looked {
  readonly file: File;
  readonly kind: FileKind | { readonly refused: string };
}

export function BringSheet() {
  useHandedFiles();
  const open = useAppSelector((s) => s.bringing !== null);
  return open ? <Opened /> : null;
}

function Opened() {
  const dispatch = useAppDispatch();
  const router = useRouter();
  const { into, at, folder, turn, url = null } = useAppSelector((s) => s.bringing!);
  const [failed, setFailed] = useState<string | null>(null);
  const [files, setFiles] = useState<readonly Looked[] | null>(null);
  useEffect(() => {
    let here = true;
    const given = dispatch(offered());
    void Promise.all(given.map(async (file) => ({ file, kind: await lookAt(file) }))).then((looked) => here && setFiles(looked));
    return () => {
      here = false;
    };
  }, [dispatch, turn]);
  const shut = () => dispatch(shutBringing());
  const choose = async (camera = false) => {
    const chosen = await chooseFiles(camera ? 'image/*' : ACCEPTED, camera);
    if (chosen.length) dispatch(handOver(chosen));
  };
  const takeScreen = async () => {
    try {
      const file = await pieceOfScreen();
      if (file) dispatch(handOver([file]));
    } catch (e) {
      setFailed(reasonOf(e));
    }
  };
  const done = (...gone: readonly File[]) => {
    const left = (files ?? []).filter((f) => !gone.includes(f.file));
    if (left.length) setFiles(left);
    else shut();
  };
  const pictures = (files ?? []).flatMap(({ file, kind }) => (kind === 'picture' || kind === 'moving' || kind === 'svg' ? [{ file, drawing: kind === 'svg' }] : []));
  const rest = (files ?? []).filter(({ file }) => !pictures.some((p) => p.file === file));
  const place = { into, after: at?.page ?? null, folder };
  const go = (note: string) => router.push(`/note/${note}` as Href);
  return (
    <Dialog onDismiss={shut} kind="sheet">
      <View style={styles.top}>
        <View style={styles.grow}>
          <Dialog.Title>Bring in</Dialog.Title>
        </View>
        <IconButton icon="close" aria-label="Close" onPress={shut} style={styles.icon} />
      </View>
      <Dialog.Content style={styles.list}>
        {files === null ? (
          <View role="status" style={styles.row}>
            <ActivityIndicator />
            <Text>Looking at the files …</Text>
          </View>
        ) : files.length === 0 ? (
          <>
            <Text>{into === null ? 'A PDF becomes a new note to write on, sound a take to write along with, a picture a page that has it, ink (InkML) pages one writes on.' : 'The pages of a PDF come into this note, to write on; pictures come onto the page; sound becomes a take to write along with; ink (InkML) comes as pages.'} Files can also be dropped onto the program from anywhere.</Text>
            <Button mode="contained" icon="bringIn" onPress={() => void choose()} contentStyle={styles.tall}>
              Choose files
            </Button>
            <Button mode="outlined" icon="camera" onPress={() => void choose(true)} contentStyle={styles.tall}>
              Take a photo
            </Button>
            <Button mode="outlined" icon="screen" onPress={() => void takeScreen()} contentStyle={styles.tall}>
              A piece of the screen
            </Button>
            {failed !== null && <Text role="alert">{`No picture was taken: ${failed}.`}</Text>}
          </>
        ) : (
          <>
            {pictures.length > 0 && <PicturesOffer pictures={pictures} place={place} at={at} url={url} go={go} onDone={() => done(...pictures.map((p) => p.file))} />}
            {rest.map(({ file, kind }) => {
              const same = { file, place, go, onDone: () => done(file) };
              if (kind === 'pdf') return <PdfOffer key={file.name} {...same} />;
              if (kind === 'ink') return <InkOffer key={file.name} {...same} />;
              if (kind === 'sound') return <SoundOffer key={file.name} {...same} />;
              return <Refused key={file.name} name={file.name} why={typeof kind === 'object' ? kind.refused : OTHERS[kind]} onClose={() => done(file)} />;
            })}
          </>
        )}
      </Dialog.Content>
    </Dialog>
  );
}

function Refused({ name, why, onClose }: { name: string; why: string; onClose: () => void }) {
  const { colors } = useTheme();
  return (
    <View role="alert" style={styles.row}>
      <Icon name="warning" size={22} color={colors.error} />
      <Text style={styles.grow}>{`“${name}” cannot be brought in: ${why}. Nothing was changed.`}</Text>
      <Button compact onPress={onClose}>
        Leave it out
      </Button>
    </View>
  );
}

const styles = StyleSheet.create({
  top: { flexDirection: 'row', alignItems: 'center', paddingRight: 8 },
  grow: { flex: 1 },
  icon: { margin: 0, width: 44, height: 44 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 10 },
  list: { gap: 16, paddingBottom: 20 },
  tall: { minHeight: 48 },
});
