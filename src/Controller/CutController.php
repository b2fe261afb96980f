<?php

namespace Pestle\App\Controller;

use Pestle\App\Gather\EditedSample;
use Pestle\App\Gather\HitFinder;
use Pestle\App\Page\ChopPage;
use Pestle\Core\Analysis\Answer;
use Pestle\Core\Analysis\PitchGuess;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Sample\Effect\Part;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Sample\Snap;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;

/** Where a recording can be cut: at hits, on its beat grid, in equal parts, where it sounds, near a place. */
#[Route('/samples/{hash}', requirements: ['hash' => '[0-9a-f]{64}'], methods: 'GET')]
final class CutController extends AbstractController
{
    /** So far around a place something to cut at is looked for, at the most. */
    private const SNAP_SECONDS = 5;

    /** The nearest frame to cut at: where the wave crosses zero, where a hit begins, or on the grid. */
    #[Route('/snap')]
    public function snap(EditedSample $sample, Request $request): JsonResponse
    {
        $at = max(0, min($sample->frames(), (int) $request->query->get('at', '0')));
        $near = self::SNAP_SECONDS * $sample->sample->rate;
        $source = $sample->source(max(0, $at - $near), 2 * $near);

        return new JsonResponse(['frame' => match ($request->query->get('to')) {
            'hit' => Snap::toHit($source, $at),
            'grid' => Snap::toGrid(ChopPage::linesOf($sample->sample, $sample->edits), $at),
            default => Snap::toZero($source, $at),
        }]);
    }

    /** Where the sound begins and ends, without the silence around it. */
    #[Route('/sounding')]
    public function sounding(EditedSample $sample, Request $request): JsonResponse
    {
        [$from, $to] = Snap::sounding($sample->source());

        return new JsonResponse(['from' => $from, 'to' => $to]);
    }

    /** How late a box answered to the note that was "sent" at a frame of what was recorded of it. */
    #[Route('/answered')]
    public function answered(EditedSample $sample, Request $request): JsonResponse
    {
        $answer = Answer::in($sample->source(), max(0, (int) $request->query->get('sent', '0')));

        return null === $answer
            ? new JsonResponse(['error' => 'No answer to the first note is heard. Is the box switched on, and its output led to the input? What was recorded is in the library.'], 422)
            : new JsonResponse(['late' => $answer->late, 'noiseDb' => round($answer->noiseDb, 1)]);
    }

    /** Where hits begin, in frames, for a sensitivity of 0 to 100 and a least distance in milliseconds. */
    #[Route('/hits')]
    public function hits(EditedSample $sample, Request $request, HitFinder $finder): JsonResponse
    {
        $sensitivity = max(0, min(100, (int) $request->query->get('sensitivity', '50'))) / 100;
        $shortest = max(10, min(2000, (int) $request->query->get('shortest', '50'))) / 1000;

        $hits = $finder->find($sample, $sensitivity, $shortest);

        return null === $hits
            ? new JsonResponse(['error' => 'Its hits are being looked for …', 'working' => null], 202, ['Retry-After' => '1', 'Cache-Control' => 'no-store'])
            : new JsonResponse(['hits' => $hits]);
    }

    /** Slices from the lowest note to the highest; those without a note come last. */
    #[Route('/pitches')]
    public function pitches(EditedSample $sample, Request $request): JsonResponse
    {
        $source = $sample->source();
        $markers = \array_slice(array_values(array_filter(array_map(intval(...), explode(',', $request->query->getString('at'))), static fn (int $f): bool => $f >= 0 && $f < $source->frames())), 0, Slices::MAX);
        sort($markers);
        $notes = [];
        foreach ($markers as $i => $from) {
            $to = min($markers[$i + 1] ?? $source->frames(), $from + 2 * $source->sampleRate());
            $pitch = PitchGuess::of(new Part($source, $from, $to));
            $notes[] = null === $pitch || $pitch->confidence < 0.3 ? 128.0 : $pitch->note;
        }
        $order = array_keys($notes);
        usort($order, static fn (int $a, int $b): int => [$notes[$a], $a] <=> [$notes[$b], $b]);

        return new JsonResponse(['order' => $order]);
    }

    /** Markers at even distances: so many equal parts, or a division of the beat grid. */
    #[Route('/cuts')]
    public function cuts(EditedSample $sample, Request $request): JsonResponse
    {
        $frames = $sample->frames();
        $query = new Fields($request->query->all());
        try {
            $slices = $query->has('parts')
                ? Slices::equal($query->whole('parts', 1, Slices::MAX), $frames)
                : Slices::onGrid(ChopPage::linesOf($sample->sample, $sample->edits), 'bar' === $query->text('division') ? 1.0 / $sample->sample->beatsABar() : $query->number('division', 0.25, 16), $frames);
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }

        return new JsonResponse(['markers' => $slices->markers, 'how' => $slices->how]);
    }
}
