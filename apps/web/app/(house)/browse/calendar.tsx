export { Calendar as default } from '@/features/browse/Calendar';
