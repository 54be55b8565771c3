/** The page of an open project: the start page is there without it, and fetches it while nothing else is to be done. */
export const fetchProjectPage = () => import('./ProjectPage');
