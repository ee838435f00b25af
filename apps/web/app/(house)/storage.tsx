export { Storage as default } from '@/features/keep/Storage';
