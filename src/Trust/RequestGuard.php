<?php

namespace Pestle\App\Trust;

use Pestle\App\Storage\DataFolder;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Event\RequestEvent;
use Symfony\Component\HttpKernel\Event\ResponseEvent;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Symfony\Component\HttpKernel\Exception\HttpException;

/**
 * Lets in only what comes from this machine's own pages: a loopback host (against DNS rebinding), no foreign
 * origin, and with every change the token that only our pages know.
 */
final readonly class RequestGuard
{
    private const LOOPBACK = ['127.0.0.1', 'localhost', '[::1]'];
    private const MAX_BODY_BYTES = 8_388_608;

    public function __construct(private DataFolder $folder)
    {
    }

    public function token(): string
    {
        return hash_hmac('sha256', 'changes', $this->folder->secret());
    }

    #[AsEventListener(priority: 200)]
    public function onRequest(RequestEvent $event): void
    {
        if (!$event->isMainRequest()) {
            return;
        }
        $request = $event->getRequest();
        $host = (string) preg_replace('/:\d+$/', '', strtolower((string) $request->headers->get('Host')));
        if (!\in_array($host, self::LOOPBACK, true)) {
            throw new AccessDeniedHttpException('Pestle answers only on this machine: open it at 127.0.0.1.');
        }
        $origin = $request->headers->get('Origin');
        if (null !== $origin && $origin !== 'http://'.$request->headers->get('Host')) {
            throw new AccessDeniedHttpException('This request came from another site.');
        }
        // What another site asks for is not worked out, but for a link that opens a page.
        $site = $request->headers->get('Sec-Fetch-Site', 'none');
        $opens = 'navigate' === $request->headers->get('Sec-Fetch-Mode') && !str_starts_with($request->getPathInfo(), '/samples/');
        if (!\in_array($site, ['none', 'same-origin'], true) && !$opens) {
            throw new AccessDeniedHttpException('This request came from another site.');
        }
        if (!$request->isMethodSafe()) {
            $this->checkChange($request);
        }
    }

    private function checkChange(Request $request): void
    {
        if ((int) $request->headers->get('Content-Length') > self::MAX_BODY_BYTES) {
            throw new HttpException(413, 'This is too much at once: files are sent in parts of 4 MB.');
        }
        if (!hash_equals($this->token(), (string) $request->headers->get('X-Pestle-Token'))) {
            throw new AccessDeniedHttpException('This page is from an earlier start of Pestle: reload it, then try again.');
        }
    }

    #[AsEventListener]
    public function onResponse(ResponseEvent $event): void
    {
        $headers = $event->getResponse()->headers;
        $headers->set('Content-Security-Policy', "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; media-src 'self'; font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'");
        $headers->set('X-Content-Type-Options', 'nosniff');
        $headers->set('Referrer-Policy', 'no-referrer');
        $headers->set('Cross-Origin-Resource-Policy', 'same-origin');
    }
}
