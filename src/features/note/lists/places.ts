import type { Box } from '../../../core/ink/stroke';

/** Where the lists lead to. */
export interface Places {
  /** `stays`: what leads there stays open over the page. */
  showPlace(page: string, box: Box, stays?: boolean): void;
}
