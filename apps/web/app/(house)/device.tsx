export { DevicePage as default } from '@/features/device/DevicePage';
