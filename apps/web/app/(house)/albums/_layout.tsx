export { AlbumsFrame as default } from '@/features/album/AlbumsFrame';
