export { SignIn as default } from '@/features/account/SignIn';
