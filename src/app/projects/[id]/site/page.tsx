import { SitePage } from '@/ui/site/SitePage';

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  return <SitePage projectId={decodeURIComponent((await params).id)} />;
}
