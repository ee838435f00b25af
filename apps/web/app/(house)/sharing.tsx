export { Sharing as default } from '@/features/share/Sharing';
