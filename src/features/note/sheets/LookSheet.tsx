/** Changes the pen of what is written already: kind, colour, width, line, opacity. */
import { useEffect } from 'react';
import type { Pen } from '../../../core/ink/pen';
import { isStroke } from '../../../core/note/kinds/kinds';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { restyleSelected, selected } from '../../../store/tools';
import { ColorControl, KindControl, LineControl, ofKind, OpacityControl, WidthControl } from './PenControls';
import { Sheet } from './Sheet';

export function LookSheet() {
  const dispatch = useAppDispatch();
  const first = useAppSelector((s) => selected(s).find(isStroke));
  // What was selected is gone: there is nothing to change the look of.
  useEffect(() => {
    if (!first) dispatch(toolsSlice.actions.set({ sheet: 'none' }));
  }, [dispatch, first]);
  if (!first) return null;
  const { pen } = first;
  const set = (look: Partial<Pen>) => void dispatch(restyleSelected(look));
  return (
    <Sheet title="Look of the selection">
      <KindControl kind={pen.kind} onChange={(kind) => set(ofKind(kind, pen))} />
      <ColorControl color={pen.color} tints={pen.kind === 'highlighter'} onChange={(color) => set({ color })} />
      <WidthControl kind={pen.kind} width={pen.width} onChange={(width) => set({ width })} />
      <LineControl line={pen.line} onChange={(line) => set({ line })} />
      <OpacityControl opacity={pen.opacity ?? 1} onChange={(opacity) => set({ opacity })} />
    </Sheet>
  );
}
