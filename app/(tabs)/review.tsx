export { ReviewScreen as default } from '../../src/features/review/ReviewScreen';
