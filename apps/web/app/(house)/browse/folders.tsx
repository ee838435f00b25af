export { Folders as default } from '@/features/folder/Folders';
