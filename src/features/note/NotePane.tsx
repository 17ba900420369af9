/** The pages of a note, with what lies over their end and the sheets that stand over them: of the note that is written, or of its source. */
import { useMemo } from 'react';
import { StyleSheet, View } from 'react-native';
import type { Box } from '../../core/ink/stroke';
import { takeInHand } from '../../store/beside';
import { toolsSlice } from '../../store/slices';
import { useAppDispatch, useAppSelector, useAppStore } from '../../store/store';
import { pasteInSight, selectInSight, textCopied } from '../../store/takingOver';
import { useMessages } from '../../store/useMessages';
import { useRoom } from '../../ui/useRoom';
import { PageEnd } from './deck/PageEnd';
import { FilmWindow } from './FilmWindow';
import type { Places } from './lists/places';
import { NoteSurface, type SurfaceHandle } from './NoteSurface';
import './pane.css';
import { AxesSheet } from './sheets/AxesSheet';
import { CupSheet } from './sheets/CupSheet';
import { KeySheet } from './sheets/KeySheet';
import { LinkSheet } from './sheets/LinkSheet';
import { LookSheet } from './sheets/LookSheet';
import { StickerSheet } from './sheets/StickerSheet';
import { TableSheet } from './sheets/TableSheet';
import { PaperSheet } from './sheets/PaperSheet';
import { PenSheet } from './sheets/PenSheet';
import { PasswordSheet, PasteSheet, PictureSheet, ZoomSheet } from './sheets/SmallSheets';
import { stripHeight } from './surface/state';

export interface NotePaneProps {
  /** Which side of the screen it is. */
  readonly hand: 'note' | 'source';
  /** The page whose paper is chosen; null for all. */
  readonly paperOf?: string | null;
  readonly surface: { current: SurfaceHandle | null };
  readonly onZoom?: (percent: number, fit: boolean) => void;
  readonly onPage?: (page: string) => void;
  /** A link leads to the web. */
  readonly onWeb: (url: string) => void;
  /** Shows another note. */
  readonly go: (note: string) => void;
}

const nothing = (): void => undefined;

/** What leads to a place of the pages. On a phone the lists lie over the page: they make way for the place they lead to. */
export function usePlaces(surface: { current: SurfaceHandle | null }): Places {
  const dispatch = useAppDispatch();
  const { wide } = useRoom();
  return useMemo(
    () => ({
      showPlace(page: string, box: Box, stays = false) {
        if (!wide && !stays) dispatch(toolsSlice.actions.set({ sheet: 'none' }));
        surface.current?.showPlace(page, box);
      },
    }),
    [dispatch, surface, wide],
  );
}

export function NotePane({ hand, paperOf = null, surface, onZoom = nothing, onPage = nothing, onWeb, go }: NotePaneProps) {
  const dispatch = useAppDispatch();
  const store = useAppStore();
  const { wide } = useRoom();
  const id = useAppSelector((s) => s.note.id);
  const sheet = useAppSelector((s) => s.tools.sheet);
  const strip = useAppSelector((s) => s.tools.strip && s.note.mode === 'write');
  const inHand = useAppSelector((s) => s.beside.note !== null && s.beside.hand === hand);
  const messages = useMessages(go, onWeb);
  const places = usePlaces(surface);
  const take = () => void dispatch(takeInHand(hand));
  /** Printed text that is copied keeps where it stands. */
  const copied = () => {
    const selection = getSelection();
    const at = selection?.rangeCount ? selection.getRangeAt(0) : null;
    const el = at && (at.startContainer instanceof Element ? at.startContainer : at.startContainer.parentElement)?.closest<HTMLElement>('[data-leaf-of]');
    const page = el && store.getState().note.note?.header.pages.find((p) => p.id === el.dataset.leafOf);
    if (!page) return;
    const [sheet, box] = [el.getBoundingClientRect(), at.getBoundingClientRect()];
    const mm = page.w / sheet.width;
    dispatch(textCopied(selection!.toString(), page.id, [(box.left - sheet.left) * mm, (box.top - sheet.top) * mm, (box.right - sheet.left) * mm, (box.bottom - sheet.top) * mm]));
  };
  return (
    <div className="pane" data-hand={inHand} onPointerDownCapture={take} onFocusCapture={take} onCopy={copied}>
      <View style={styles.all}>
        <NoteSurface key={id} onZoom={onZoom} onPage={onPage} onWeb={onWeb} go={go} handleRef={surface} />
        <FilmWindow />
        <PageEnd bottom={strip ? stripHeight(wide) : 0} messages={messages} places={places} onPaste={() => dispatch(pasteInSight())} onAll={() => dispatch(selectInSight())} onWeb={onWeb} />
        {sheet === 'cup' && <CupSheet />}
        {sheet === 'pen' && <PenSheet />}
        {sheet === 'look' && <LookSheet />}
        {sheet === 'axes' && <AxesSheet />}
        {sheet === 'table' && <TableSheet />}
        {sheet === 'link' && <LinkSheet />}
        {sheet === 'sticker' && <StickerSheet />}
        {sheet === 'picture' && <PictureSheet />}
        {sheet === 'password' && <PasswordSheet />}
        {sheet === 'paste' && <PasteSheet onPaste={(sound) => dispatch(pasteInSight(sound))} />}
        {sheet === 'keys' && <KeySheet />}
        {sheet === 'paper' && <PaperSheet page={paperOf} />}
        {sheet === 'zoom' && <ZoomSheet onZoom={(z) => surface.current?.setZoom(z)} />}
      </View>
    </div>
  );
}

const styles = StyleSheet.create({ all: { flex: 1, minWidth: 0, minHeight: 0 } });
