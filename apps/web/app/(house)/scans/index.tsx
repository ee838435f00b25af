export { Scans as default } from '@/features/scan/Scans';
