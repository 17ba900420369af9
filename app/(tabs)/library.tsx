export { LibraryScreen as default } from '../../src/features/library/LibraryScreen';
