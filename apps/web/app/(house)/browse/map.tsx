export { MapPage as default } from '@/features/place/MapPage';
