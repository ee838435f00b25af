export { Libraries as default } from '@/features/keep/Libraries';
