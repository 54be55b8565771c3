import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { Toaster } from 'sonner';
import { TaskVoice } from './frame/TaskList';
import { fetchProjectPage } from './project-page';
import { QuestionDialog } from './dialogs/QuestionDialog';
import { RouteProblem } from './RouteProblem';
import { StartPage } from './start/StartPage';

const router = createBrowserRouter([
  { path: '/', element: <StartPage />, errorElement: <RouteProblem /> },
  {
    path: '/project/:id/:stage?',
    lazy: async () => ({ Component: (await fetchProjectPage()).ProjectPage }),
    HydrateFallback: () => <main aria-busy />,
    errorElement: <RouteProblem />,
  },
  {
    path: '/set/:id',
    lazy: async () => ({ Component: (await import('./SetRoute')).SetRoute }),
    HydrateFallback: () => <main aria-busy />,
    errorElement: <RouteProblem />,
  },
  { path: '*', element: <Navigate to="/" replace /> },
]);

export function App() {
  return (
    <>
      <RouterProvider router={router} />
      <QuestionDialog />
      <TaskVoice />
      <Toaster
        visibleToasts={2}
        position="top-center"
        offset={{ top: 98 }}
        toastOptions={{ className: 'toast-note' }}
      />
    </>
  );
}
