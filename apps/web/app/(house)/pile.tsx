export { PilePage as default } from '@/features/pile/PilePage';
