export { News as default } from '@/features/notice/News';
