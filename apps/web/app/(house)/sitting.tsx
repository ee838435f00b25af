export { Sitting as default } from '@/features/sitting/Sitting';
