<?php

namespace Pestle\App\Controller;

use Pestle\App\Deliver\Deliveries;
use Pestle\App\Entity\BeatRecord;
use Pestle\App\Entity\Delivery;
use Pestle\Core\Exchange\DeliveryOrder;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\ResponseHeaderBag;
use Symfony\Component\Routing\Attribute\Route;

/** Ordering a delivery, watching it, taking its files. */
final class DeliveryController extends AbstractController
{
    public function __construct(private readonly Deliveries $deliveries)
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

        return $this->show($this->deliveries->order($record, $settings), $request);
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
        $response = new BinaryFileResponse($path);
        $ascii = (string) preg_replace('/[^\x20-\x7e]|[%\/\\\\]/', '_', $delivery->archive);

        return $response->setContentDisposition(ResponseHeaderBag::DISPOSITION_ATTACHMENT, $delivery->archive, $ascii);
    }

    private function delivery(int $id): Delivery
    {
        return $this->deliveries->find($id) ?? throw $this->createNotFoundException('This delivery is not there.');
    }

    private function show(Delivery $delivery, Request $request): Response
    {
        return $request->headers->has('HX-Request')
            ? $this->render('deliver/delivery.html.twig', ['delivery' => $delivery])
            : new JsonResponse(['id' => $delivery->id, 'state' => $delivery->state, 'progress' => $this->deliveries->progress($delivery), 'message' => $delivery->message, 'files' => $delivery->files]);
    }
}
