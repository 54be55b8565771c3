import { subjectOf, type UvMesh } from '../../core/mesh';
import { useProject, type ProjectView } from './project-store';

/** The open model without its backdrops: what is laid out, mended and measured. */
const formIn = ({ mesh }: Pick<ProjectView, 'mesh'>): UvMesh | null => mesh && subjectOf(mesh);

export const subjectNow = (): UvMesh | null => formIn(useProject.getState());

export const useForm = (): UvMesh | null => useProject(formIn);
