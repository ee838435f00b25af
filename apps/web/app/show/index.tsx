export { WallBegin as default } from '@/features/show/WallPage';
