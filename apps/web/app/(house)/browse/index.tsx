export { When as default } from '@/features/browse/When';
