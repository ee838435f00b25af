import { lazily } from '@/ui/lazily';

/** The router fetches frames of pages with its first page: this one comes when it is shown. */
export default lazily(async () => (await import('@/features/album/AlbumsFrame')).AlbumsFrame);
