import { QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, RouterProvider } from 'react-router'
import { queryClient } from './api/queries'
import './app.css'
import { BenchPage } from './bench/BenchPage'
import { liveOn } from './desk/unsaved'
import { ComparePage } from './look/ComparePage'
import { SheetPage } from './sheet/SheetPage'
import { DeliveriesPage } from './pages/Deliveries'
import { LensesPage } from './pages/Lenses'
import { BrokenPage, NotFoundPage } from './pages/NotFound'
import { SettingsPage } from './pages/Settings'
import { ShootsPage } from './pages/Shoots'

liveOn()

const router = createBrowserRouter([
  {
    errorElement: <BrokenPage />,
    children: [
      { path: '/', element: <ShootsPage /> },
      { path: '/shoots/:shootId', element: <SheetPage /> },
      { path: '/shoots/:shootId/frames/:frameId', element: <BenchPage /> },
      { path: '/shoots/:shootId/compare', element: <ComparePage /> },
      { path: '/deliveries', element: <DeliveriesPage /> },
      { path: '/lenses', element: <LensesPage /> },
      { path: '/settings', element: <SettingsPage /> },
      { path: '*', element: <NotFoundPage /> },
    ],
  },
])

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queryClient}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  </StrictMode>,
)
