export { What as default } from '@/features/browse/What';
