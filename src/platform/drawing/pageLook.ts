/** The colours that pages are drawn in: as they are, or as on dark paper. Files that leave the application are always drawn as they are. */
import { DARK_SHEET, onDark } from '../../core/ink/darkPage';
import { LINE, lineColor, SHEET, sheetColor } from '../../core/note/paper';
import type { Page, Paper } from '../../core/note/schema';

export interface PageLook {
  sheet(paper: Paper): string;
  /** The plate of a cover, which is written on as a sheet is. */
  plate(): string;
  line(paper: Paper): string;
  ink(color: string, paper?: Paper): string;
}

export const LIGHT_PAGE: PageLook = {
  sheet: sheetColor,
  plate: () => SHEET,
  line: lineColor,
  ink: (color) => color,
};

export const DARK_PAGE: PageLook = {
  // A coloured sheet keeps its hue: it stands out from the dark as it does from white.
  sheet: (paper) => (paper.kind === 'cover' ? LIGHT_PAGE.sheet(paper) : paper.sheet ? onDark(paper.sheet, '#ffffff') : DARK_SHEET),
  plate: () => DARK_SHEET,
  line: (paper) => onDark(paper.line ?? LINE, SHEET),
  ink: (color) => onDark(color, SHEET),
};

/** How pages look on this screen at the moment. */
export const onScreen: { look: PageLook } = { look: LIGHT_PAGE };

/** How one of them looks: what was printed or photographed keeps its white, and with it the ink on it its colours. */
export const lookOf = ({ backdrop }: Pick<Page, 'backdrop'>): PageLook => (backdrop ? LIGHT_PAGE : onScreen.look);
