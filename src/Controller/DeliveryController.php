<?php

namespace Pestle\App\Controller;

use Pestle\App\Deliver\Deliveries;
use Pestle\App\Deliver\StoredFile;
use Pestle\App\Entity\BeatRecord;
use Pestle\App\Entity\Delivery;
use Pestle\App\Storage\Beats;
use Pestle\App\Storage\Steps;
use Pestle\Core\Exchange\DeliveryOrder;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\ResponseHeaderBag;
use Symfony\Component\Routing\Attribute\Route;

/** Ordering a delivery, watching it, taking its files. */
final class DeliveryController extends AbstractController
{
    private const TYPES = ['wav' => 'audio/wav', 'flac' => 'audio/flac', 'mp3' => 'audio/mpeg', 'ogg' => 'audio/ogg'];

    public function __construct(private readonly Deliveries $deliveries, private readonly Beats $beats)
    {
    }

    #[Route('/beats/{beat}/deliveries', requirements: ['beat' => '\d{1,9}'], methods: 'POST')]
    public function order(BeatRecord $record, Request $request): Response
    {
        $settings = [];
        foreach (ChangeController::fields($request) as $name => $value) {
            if (\in_array($name, DeliveryOrder::FIELDS, true) && (\is_string($value) || \is_bool($value) || \is_int($value))) {
                $settings[$name] = $value;
            }
        }

        return $this->showAll($this->deliveries->order($record, $settings), $request);
    }

    /** The same once more, from the beat as it was then. */
    #[Route('/deliveries/{id}/again', requirements: ['id' => '\d{1,9}'], methods: 'POST')]
    public function again(int $id, Request $request): Response
    {
        $delivery = $this->delivery($id);

        return $this->show($this->deliveries->again($delivery, $this->record($delivery)), $request);
    }

    /** What it was made from, and how that differs from the beat of today. */
    #[Route('/deliveries/{id}/since', requirements: ['id' => '\d{1,9}'], methods: 'GET')]
    public function since(int $id, Steps $steps): Response
    {
        $delivery = $this->delivery($id);
        $record = $this->record($delivery);

        return $this->render('deliver/since.html.twig', [
            'delivery' => $delivery,
            'step' => $steps->last($record, $delivery->head),
            'since' => $steps->between($record, $delivery->head, $record->head),
            'beside' => $this->deliveries->beside($delivery),
        ]);
    }

    /** One of its files, to be heard or taken by itself. */
    #[Route('/deliveries/{id}/files/{number}', requirements: ['id' => '\d{1,9}', 'number' => '\d{1,4}'], methods: 'GET')]
    public function single(int $id, int $number, Request $request): Response
    {
        $delivery = $this->delivery($id);
        $name = $delivery->files[$number]['name'] ?? '';
        $file = '' === $name || null === $delivery->archive ? null : StoredFile::in($this->deliveries->folder($delivery).'/'.$delivery->archive, $name);
        if (null === $file) {
            throw $this->createNotFoundException('This file is not there. Deliver again.');
        }
        $response = $file->response($request, self::TYPES[pathinfo($name, \PATHINFO_EXTENSION)] ?? 'application/octet-stream');
        $response->headers->set('Content-Disposition', HeaderUtils::makeDisposition(HeaderUtils::DISPOSITION_ATTACHMENT, $name, self::ascii($name)));

        return $response;
    }

    #[Route('/deliveries/{id}', requirements: ['id' => '\d{1,9}'], methods: 'GET')]
    public function one(int $id, Request $request): Response
    {
        return $this->show($this->delivery($id), $request);
    }

    #[Route('/deliveries/{id}/cancel', requirements: ['id' => '\d{1,9}'], methods: 'POST')]
    public function cancel(int $id, Request $request): Response
    {
        $delivery = $this->delivery($id);
        $this->deliveries->cancel($delivery);

        return $this->show($delivery, $request);
    }

    #[Route('/deliveries/{id}/file', requirements: ['id' => '\d{1,9}'], methods: 'GET')]
    public function archive(int $id): Response
    {
        $delivery = $this->delivery($id);
        $path = $this->deliveries->folder($delivery).'/'.$delivery->archive;
        if (null === $delivery->archive || !is_file($path)) {
            throw $this->createNotFoundException('These files are not there. Deliver again.');
        }

        return (new BinaryFileResponse($path))->setContentDisposition(ResponseHeaderBag::DISPOSITION_ATTACHMENT, $delivery->archive, self::ascii($delivery->archive));
    }

    private static function ascii(string $name): string
    {
        return (string) preg_replace('/[^\x20-\x7e]|[%\/\\\\]/', '_', $name);
    }

    private function record(Delivery $delivery): BeatRecord
    {
        return $this->beats->find($delivery->beatId) ?? throw $this->createNotFoundException('Its beat is not there any more.');
    }

    private function delivery(int $id): Delivery
    {
        return $this->deliveries->find($id) ?? throw $this->createNotFoundException('This delivery is not there.');
    }

    private function show(Delivery $delivery, Request $request): Response
    {
        return $request->headers->has('HX-Request')
            ? $this->render('deliver/delivery.html.twig', ['delivery' => $delivery])
            : new JsonResponse($this->told($delivery));
    }

    /** @param non-empty-list<Delivery> $deliveries in the order they are made in */
    private function showAll(array $deliveries, Request $request): Response
    {
        return $request->headers->has('HX-Request')
            ? $this->render('deliver/deliveries.html.twig', ['deliveries' => array_reverse($deliveries)])
            : new JsonResponse([...$this->told($deliveries[0]), 'all' => array_map(static fn (Delivery $d): int => $d->id, $deliveries)]);
    }

    /** @return array<string, mixed> */
    private function told(Delivery $delivery): array
    {
        return ['id' => $delivery->id, 'state' => $delivery->state, 'progress' => $this->deliveries->progress($delivery), 'message' => $delivery->message, 'files' => $delivery->files];
    }
}
