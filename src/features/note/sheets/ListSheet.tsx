import { Lists } from '../lists/Lists';
import type { Places } from '../lists/places';
import { Sheet } from './Sheet';

export const ListSheet = ({ places }: { places: Places }) => (
  <Sheet title="Lists">
    <Lists places={places} />
  </Sheet>
);
