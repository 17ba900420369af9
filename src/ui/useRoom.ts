/** How much room the window gives: what stands beside the page, and on which side of it the deck lies. */
import { useWindowDimensions } from 'react-native';
import { WIDE } from './theme';

export interface Room {
  readonly width: number;
  /** Lists and pages stand beside the page. */
  readonly wide: boolean;
  /** A phone on its side: height is what there is least of, so the deck stands beside the page. */
  readonly side: boolean;
}

export function useRoom(): Room {
  const { width, height } = useWindowDimensions();
  return { width, wide: width >= WIDE, side: height < 500 && width > height };
}
