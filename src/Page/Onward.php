<?php

namespace Pestle\App\Page;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Event\ResponseEvent;

/** Where a form leads is told to htmx by its header: of a redirect the browser itself would only hand over the page behind it. */
final class Onward
{
    #[AsEventListener]
    public function onResponse(ResponseEvent $event): void
    {
        $response = $event->getResponse();
        if ($response instanceof RedirectResponse && $event->getRequest()->headers->has('HX-Request') && !$event->getRequest()->isMethod('GET')) {
            $event->setResponse(new Response('', 204, ['HX-Redirect' => $response->getTargetUrl()]));
        }
    }
}
