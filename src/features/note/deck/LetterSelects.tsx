/** Face and size of letters. */
import { FACES, type Face, type Look } from '../../../core/text/faces';
import { Select } from '../../../ui/Select';

const FACE_NAMES: Readonly<Record<Face, string>> = { sans: 'Sans', serif: 'Serif', typewriter: 'Typewriter', hand: 'Hand' };
const SIZES = [8, 9, 10, 11, 12, 14, 16, 18, 20, 24, 28, 36, 48, 72];

export function LetterSelects({ look, onChange }: { look: Look; onChange: (patch: Partial<Pick<Look, 'face' | 'size'>>) => void }) {
  return (
    <>
      <Select bare label="Font" value={look.face} options={FACES.map((value) => ({ value, text: FACE_NAMES[value] }))} onChange={(face) => onChange({ face })} />
      <Select bare label="Size, points" value={look.size} options={SIZES.map((value) => ({ value, text: `${value} pt` }))} onChange={(size) => onChange({ size })} />
    </>
  );
}
