export { Parlour as default } from '@/features/parlour/Parlour';
