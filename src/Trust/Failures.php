<?php

namespace Pestle\App\Trust;

use Pestle\App\Queue\Work;
use Pestle\App\Storage\DiskTrouble;
use Pestle\App\Storage\Outdated;
use Pestle\App\Storage\Unreadable;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Render\NotMadeYet;
use Psr\Log\LoggerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Event\ExceptionEvent;
use Symfony\Component\HttpKernel\Exception\HttpExceptionInterface;
use Symfony\Component\HttpKernel\Exception\ServiceUnavailableHttpException;
use Twig\Environment;

/** Every failure is answered with a sentence: as a page to somebody who looks, as JSON to a script. */
final readonly class Failures
{
    public function __construct(private Environment $twig, private LoggerInterface $logger, private Work $work)
    {
    }

    #[AsEventListener(priority: 50)]
    public function onException(ExceptionEvent $event): void
    {
        if (!$event->isMainRequest()) {
            return;
        }
        $failure = $event->getThrowable();
        if ($failure instanceof NotMadeYet) {
            $this->work->workOut($failure->sound);
            $event->allowCustomResponseCode();
            $event->setResponse(new JsonResponse(['error' => $failure->getMessage(), 'working' => $failure->progress], 202, ['Retry-After' => '1', 'Cache-Control' => 'no-store']));

            return;
        }
        $disk = DiskTrouble::sentence($failure);
        [$status, $sentence] = null === $disk || $failure instanceof InvalidChange ? $this->meaning($failure) : [507, $disk];
        if ($status >= 500 && !$failure instanceof ServiceUnavailableHttpException) {
            $this->logger->error($failure->getMessage(), ['exception' => $failure]);
        }
        $request = $event->getRequest();
        $page = $request->isMethod('GET') && str_contains((string) $request->headers->get('Accept'), 'text/html');
        $event->setResponse($page
            ? new Response($this->twig->render('error/page.html.twig', ['status' => $status, 'sentence' => $sentence, 'unreadable' => $failure instanceof Unreadable ? $failure->beat : null]), $status)
            : new JsonResponse(['error' => $sentence, 'outdated' => $failure instanceof Outdated], $status, $failure instanceof HttpExceptionInterface ? $failure->getHeaders() : []));
    }

    /** @return array{int, string} */
    private function meaning(\Throwable $failure): array
    {
        return match (true) {
            $failure instanceof Outdated => [409, $failure->getMessage()],
            $failure instanceof Unreadable => [422, $failure->getMessage()],
            $failure instanceof InvalidChange, $failure instanceof UnreadableAudio => [422, $failure->getMessage()],
            $failure instanceof \OutOfBoundsException => [404, $failure->getMessage()],
            $failure instanceof HttpExceptionInterface => [$failure->getStatusCode(), self::sentence($failure->getStatusCode(), $failure->getMessage())],
            default => [500, 'Something in Pestle went wrong. Your beat is as it was; the log says more.'],
        };
    }

    private static function sentence(int $status, string $message): string
    {
        return match (true) {
            404 === $status && str_starts_with($message, 'No route') => 'There is nothing at this address.',
            405 === $status => 'This address does not take that kind of request.',
            '' === $message => 'This request cannot be answered.',
            default => $message,
        };
    }
}
