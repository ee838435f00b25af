export { BestPage as default } from '@/features/album/BestPage';
