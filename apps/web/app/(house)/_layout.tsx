export { House as default } from '@/features/library/House';
