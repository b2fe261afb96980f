<?php

namespace Pestle\App\Controller;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Page\SoundPage;
use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Render\NotePicture;
use Pestle\Core\Render\PadSounds;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;

/** How a low, a middle and a high note of an instrument sound over time. */
final class NotePictureController extends AbstractController
{
    private const STRENGTH = 100;

    public function __construct(private readonly Beats $beats, private readonly SampleStore $samples)
    {
    }

    #[Route('/beats/{beat}/sound/{part}/{key}', requirements: ['beat' => '\d{1,9}', 'part' => 'part-\d{1,3}', 'key' => '[0-9a-f]{16}'], methods: 'GET')]
    public function notes(BeatRecord $record, string $part, string $key): Response
    {
        $beat = $this->beats->content($record);
        $own = $beat->parts[$part] ?? null;
        if (null === $own?->keys) {
            throw $this->createNotFoundException('This instrument is no longer in the beat.');
        }
        $sounds = new PadSounds($this->samples->library(false), Beat::SAMPLE_RATE);
        $bytes = static fn (array $values): string => base64_encode(pack('C*', ...$values));
        $notes = [];
        foreach (SoundPage::around($beat, $own) as $pitch) {
            $picture = NotePicture::of($beat, $own->keys, $pitch, self::STRENGTH, $sounds);
            $notes[] = ['pitch' => $pitch, 'bands' => $bytes($picture->bands), 'level' => $bytes($picture->level)];
        }
        $response = new JsonResponse(['columns' => NotePicture::COLUMNS, 'held' => NotePicture::HELD / NotePicture::SECONDS, 'notes' => $notes]);
        $response->setPrivate()->setMaxAge(86_400);

        return $response;
    }
}
