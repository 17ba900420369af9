export { Root as default } from '../src/features/frame/Root';
