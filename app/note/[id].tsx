export { NoteScreen as default } from '../../src/features/note/NoteScreen';
