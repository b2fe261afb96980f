<?php

namespace Pestle\App\Controller;

use Pestle\App\Entity\ShelvedKit;
use Pestle\App\Gather\Uploads;
use Pestle\App\Shelf\CarriedOut;
use Pestle\App\Shelf\KitShelf;
use Pestle\Core\Exchange\DeliveryNames;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\ResponseHeaderBag;
use Symfony\Component\Routing\Attribute\Route;

/** Kits of the shelf: brought in, carried out, taken off. */
final class KitController extends AbstractController
{
    public function __construct(private readonly KitShelf $shelf)
    {
    }

    #[Route('/kits/{kit}.zip', requirements: ['kit' => '\d{1,9}'], methods: 'GET')]
    public function out(int $kit, CarriedOut $carried): Response
    {
        $found = $this->found($kit);
        $path = $carried->find($this->shelf->version($found->id, null) ?? throw $this->createNotFoundException());
        if (null === $path) {
            return new JsonResponse(['working' => null], 202, ['Retry-After' => '1', 'Cache-Control' => 'no-store']);
        }
        $response = new BinaryFileResponse($path);

        return $response->setContentDisposition(ResponseHeaderBag::DISPOSITION_ATTACHMENT, DeliveryNames::safe(str_replace('%', '-', $found->name)).'.zip', 'kit.zip');
    }

    /** A zip, or an SFZ file together with its samples, that came in as uploads; how far it is says the upload it answers with. */
    #[Route('/kits', methods: 'POST')]
    public function in(Request $request, Uploads $uploads): Response
    {
        $ids = ChangeController::fields($request)['uploads'] ?? null;

        return new JsonResponse(['id' => $uploads->kit(\is_array($ids) ? array_values(array_filter($ids, is_string(...))) : [])->id], 201);
    }

    #[Route('/kits/{kit}/delete', requirements: ['kit' => '\d{1,9}'], methods: 'POST')]
    public function delete(int $kit): Response
    {
        $found = $this->found($kit);
        $found->deletedAt = new \DateTimeImmutable();
        $this->shelf->change($found);

        return new JsonResponse(['name' => $found->name]);
    }

    #[Route('/kits/{kit}/restore', requirements: ['kit' => '\d{1,9}'], methods: 'POST')]
    public function restore(int $kit): Response
    {
        $this->shelf->restore($kit);

        return new JsonResponse([]);
    }

    private function found(int $id): ShelvedKit
    {
        return $this->shelf->find($id) ?? throw $this->createNotFoundException('This kit is not on the shelf any more.');
    }
}
