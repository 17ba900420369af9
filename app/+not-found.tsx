export { NotFoundScreen as default } from '../src/features/frame/NotFoundScreen';
