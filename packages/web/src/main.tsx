import { QueryClientProvider } from '@tanstack/react-query'
import { Portal } from '@headlessui/react'
import { StrictMode, useRef } from 'react'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, RouterProvider } from 'react-router'
import { queryClient } from './api/queries'
import './app.css'
import { liveOn } from './desk/unsaved'
import { BrokenPage, NotFoundPage } from './pages/NotFound'
import { ShootsPage } from './pages/Shoots'
import { SheetPage } from './sheet/SheetPage'

/** The bench is fetched ahead, once the first page has had so long for itself. */
const BENCH_AFTER_MS = 1500

liveOn()

const bench = async () => (await import('./bench/BenchPage')).BenchPage

const router = createBrowserRouter([
  {
    errorElement: <BrokenPage />,
    // while the first page is fetched, the empty window is enough
    hydrateFallbackElement: <></>,
    children: [
      { path: '/', element: <ShootsPage /> },
      { path: '/shoots/:shootId', element: <SheetPage /> },
      { path: '/shoots/:shootId/frames/:frameId', lazy: { Component: bench } },
      {
        path: '/shoots/:shootId/compare',
        lazy: { Component: async () => (await import('./look/ComparePage')).ComparePage },
      },
      {
        path: '/deliveries',
        lazy: { Component: async () => (await import('./pages/Deliveries')).DeliveriesPage },
      },
      { path: '/open', lazy: { Component: async () => (await import('./pages/OpenFile')).OpenFilePage } },
      { path: '/presets', lazy: { Component: async () => (await import('./pages/Presets')).PresetsPage } },
      { path: '/lenses', lazy: { Component: async () => (await import('./pages/Lenses')).LensesPage } },
      { path: '/settings', lazy: { Component: async () => (await import('./pages/Settings')).SettingsPage } },
      { path: '*', element: <NotFoundPage /> },
    ],
  },
])

setTimeout(() => void bench().catch(() => undefined), BENCH_AFTER_MS)

/** The pages, and after them the place of open menus: a part of the page like all others. */
function Pages() {
  const menus = useRef<HTMLDivElement>(null)
  return (
    <>
      <Portal.Group target={menus}>
        <RouterProvider router={router} />
      </Portal.Group>
      <div ref={menus} role="region" aria-label="Open menu">
        {/* what is empty would be taken out of the page with the last menu */}
        <span hidden />
      </div>
    </>
  )
}

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queryClient}>
      <Pages />
    </QueryClientProvider>
  </StrictMode>,
)
