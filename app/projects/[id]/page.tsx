import { Studio } from '../../../studio';

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  return <Studio projectId={(await params).id} />;
}
