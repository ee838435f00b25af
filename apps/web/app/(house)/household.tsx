export { Household as default } from '@/features/library/Household';
