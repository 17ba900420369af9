import { Lists, type Places } from '../lists/Lists';
import { Sheet } from './Sheet';

export const ListSheet = ({ places }: { places: Places }) => (
  <Sheet title="Lists">
    <Lists places={places} />
  </Sheet>
);
