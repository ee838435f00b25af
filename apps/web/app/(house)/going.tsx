export { Going as default } from '@/features/going/Going';
