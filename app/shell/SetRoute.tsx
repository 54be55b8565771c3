import { SetPage } from '../set/stage';
import { TaskList } from './frame/TaskList';

export function SetRoute() {
  return (
    <>
      <SetPage />
      <TaskList />
    </>
  );
}
