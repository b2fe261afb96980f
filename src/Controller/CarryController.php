<?php

namespace Pestle\App\Controller;

use Pestle\App\Carry\Packed;
use Pestle\App\Entity\BeatRecord;
use Pestle\App\Gather\Uploads;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Exchange\DeliveryNames;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\ResponseHeaderBag;
use Symfony\Component\Routing\Attribute\Route;

/** Beats carried from one Pestle to another, each as one file, or all of them with the whole library. */
final class CarryController extends AbstractController
{
    #[Route('/beats/{beat}/beat.zip', requirements: ['beat' => '\d{1,9}'], methods: 'GET')]
    public function out(BeatRecord $record, Packed $packed): Response
    {
        return self::archive($packed->find($record), DeliveryNames::safe(str_replace('%', '-', $record->name)).'.beat.zip', 'beat.zip');
    }

    /** All there is, as it was when it was asked for. */
    #[Route('/library-{asked}.zip', requirements: ['asked' => '\d{10}'], methods: 'GET')]
    public function library(int $asked, Packed $packed): Response
    {
        return self::archive($packed->library($asked), 'Pestle library.zip', 'library.zip');
    }

    private static function archive(?string $path, string $name, string $ascii): Response
    {
        return null === $path
            ? new JsonResponse(['working' => null], 202, ['Retry-After' => '1', 'Cache-Control' => 'no-store'])
            : (new BinaryFileResponse($path))->setContentDisposition(ResponseHeaderBag::DISPOSITION_ATTACHMENT, $name, $ascii);
    }

    /** An archive that was sent whole; its upload says what comes of it. */
    #[Route('/carried', methods: 'POST')]
    public function in(Request $request, Uploads $uploads): Response
    {
        return new JsonResponse(['id' => $uploads->carried((new Fields(ChangeController::fields($request)))->text('upload'))->id], 201);
    }
}
