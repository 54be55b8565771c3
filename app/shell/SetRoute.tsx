import { SetPage } from '../set/stage';
import { TaskList } from './TaskList';

export function SetRoute() {
  return (
    <>
      <SetPage />
      <TaskList />
    </>
  );
}
