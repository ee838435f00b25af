export { Where as default } from '@/features/browse/Where';
