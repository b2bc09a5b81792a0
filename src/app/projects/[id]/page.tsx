import { Workbench } from '@/ui/frame/Workbench';

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  return <Workbench projectId={decodeURIComponent((await params).id)} />;
}
