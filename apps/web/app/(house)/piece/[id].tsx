export { PiecePage as default } from '@/features/piece/PiecePage';
