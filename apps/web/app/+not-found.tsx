export { Nowhere as default } from '@/features/account/Nowhere';
