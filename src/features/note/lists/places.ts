import type { Box } from '../../../core/ink/stroke';

/** Where the lists lead to. */
export interface Places {
  showPlace(page: string, box: Box): void;
}
