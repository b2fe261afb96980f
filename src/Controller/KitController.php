<?php

namespace Pestle\App\Controller;

use Pestle\App\Entity\ShelvedKit;
use Pestle\App\Gather\Uploads;
use Pestle\App\Shelf\KitFiles;
use Pestle\App\Shelf\KitShelf;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Beat\InvalidChange;
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
    public function __construct(private readonly KitShelf $shelf, private readonly KitFiles $files, private readonly DataFolder $folder)
    {
    }

    #[Route('/kits/{kit}.zip', requirements: ['kit' => '\d{1,9}'], methods: 'GET')]
    public function out(int $kit): Response
    {
        $version = $this->shelf->version($this->found($kit)->id, null) ?? throw $this->createNotFoundException();
        $path = $this->folder->incoming().'/kit-'.bin2hex(random_bytes(8)).'.zip';
        try {
            $lost = $this->files->out(KitShelf::sheet($version), $path);
        } catch (UnreadableAudio $e) {
            throw new InvalidChange($e->getMessage());
        }
        $response = new BinaryFileResponse($path);
        $response->deleteFileAfterSend();
        $name = $this->found($kit)->name;
        $response->setContentDisposition(ResponseHeaderBag::DISPOSITION_ATTACHMENT, DeliveryNames::safe(str_replace('%', '-', $name)).'.zip', 'kit.zip');
        $response->headers->set('X-Pestle-Lost', rawurlencode(implode('; ', $lost)));

        return $response;
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
