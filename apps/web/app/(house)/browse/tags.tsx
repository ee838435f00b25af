export { Tags as default } from '@/features/tag/Tags';
