export { Safekeeping as default } from '@/features/safe/Safekeeping';
