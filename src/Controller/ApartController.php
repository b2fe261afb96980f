<?php

namespace Pestle\App\Controller;

use Pestle\App\Apart\TakenApart;
use Pestle\App\Entity\Sample;
use Pestle\App\Gather\EditedSample;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Sound\Stretch;
use Pestle\Core\Apart\RecordingPart;
use Pestle\Core\Audio\Resampled;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\EditFields;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Sample\Edits;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;

/** A recording taken apart: begun, gone on with, thrown away; how far it is, and its parts as far as they are there. */
#[Route('/samples/{hash}/apart', requirements: ['hash' => '[0-9a-f]{64}', 'part' => 'drums|bass|melody|voice'])]
final class ApartController extends AbstractController
{
    /** Longest stretch sent at once for listening, in seconds. */
    private const LISTEN_SECONDS = 10;

    public function __construct(private readonly TakenApart $apart, private readonly SampleStore $samples)
    {
    }

    #[Route('', methods: 'GET')]
    public function state(EditedSample $sample): JsonResponse
    {
        return new JsonResponse($this->apart->state($sample->sample)->toArray(), 200, ['Cache-Control' => 'no-store']);
    }

    #[Route('', methods: 'POST')]
    public function begin(EditedSample $sample): JsonResponse
    {
        $this->apart->begin($sample->sample);

        return $this->state($sample);
    }

    /** Gives up, for now: what is done stays. */
    #[Route('/job', methods: 'DELETE')]
    public function giveUp(EditedSample $sample): JsonResponse
    {
        $this->apart->giveUp($sample->sample);

        return $this->state($sample);
    }

    #[Route('', methods: 'DELETE')]
    public function forget(EditedSample $sample): JsonResponse
    {
        $this->apart->forget($sample->sample);

        return $this->state($sample);
    }

    /** The largest value of each stretch as a byte, from one of them on: of each part in turn, equally many. */
    #[Route('/outline', methods: 'GET')]
    public function outline(EditedSample $sample, Request $request): Response
    {
        $files = $this->apart->files($sample->sample);
        $from = max(0, (int) $request->query->get('from', '0'));
        $outlines = array_map(static fn (RecordingPart $part): string => $files->outline($part, $from), RecordingPart::cases());

        return new Response(implode('', $outlines), 200, ['Content-Type' => 'application/octet-stream', 'Cache-Control' => 'no-store']);
    }

    /** A part for listening to, from a frame of the recording on, with the edits its sample has. */
    #[Route('/sound/{part}', methods: 'GET')]
    public function sound(EditedSample $sample, RecordingPart $part, Request $request): Response
    {
        $made = $this->apart->state($sample->sample)->samples[$part->value] ?? null;
        $rate = $sample->sample->rate;
        $from = max(0, min($sample->sample->frames, (int) $request->query->get('from', '0')));
        $length = max(0, min(self::LISTEN_SECONDS * $rate, (int) $request->query->get('frames', (string) \PHP_INT_MAX), $sample->sample->frames - $from));
        $source = null === $made ? $this->apart->files($sample->sample)->source($part) : (new EditedSample($made, self::treated($request), $this->samples))->source($from, $length);
        $first = (int) round($from / $rate * Beat::SAMPLE_RATE);
        $end = (int) round(($from + $length) / $rate * Beat::SAMPLE_RATE);

        return Stretch::answer(Resampled::toRate($source, Beat::SAMPLE_RATE), $first, $end - $first);
    }

    /** What is done to a part's sample in the beat. */
    private static function treated(Request $request): Edits
    {
        $json = $request->query->getString('treated');

        return '' === $json ? new Edits() : EditFields::read(new Fields(['edits' => $json]), 'edits');
    }
}
