export { MadeOf as default } from '@/features/library/MadeOf';
