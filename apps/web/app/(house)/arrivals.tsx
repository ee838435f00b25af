export { Arrivals as default } from '@/features/arrivals/Arrivals';
