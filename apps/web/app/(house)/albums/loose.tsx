export { Loose as default } from '@/features/album/Loose';
