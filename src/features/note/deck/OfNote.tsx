/** What belongs to the note that is written, whichever side of the screen is in hand: recording, and its marks. */
import { Provider } from 'react-redux';
import { store } from '../../../store/store';

export function OfNote({ children }: { children: React.ReactNode }) {
  return <Provider store={store}>{children}</Provider>;
}
