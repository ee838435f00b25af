export { Devices as default } from '@/features/gather/Devices';
