export { MakingPage as default } from '@/features/piece/Making';
