export { Mailbox as default } from '@/features/mail/Mailbox';
