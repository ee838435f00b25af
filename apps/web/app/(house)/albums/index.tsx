export { Albums as default } from '@/features/album/Albums';
