<?php

namespace Pestle\App\Controller;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Entity\Sample;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Shelf\GrooveShelf;
use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\Midi\MidiFile;
use Pestle\Core\Exchange\Midi\UnreadableMidi;
use Pestle\Core\Sample\BeatGrid;
use Pestle\Core\Theory\Ticks;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;

/** Grooves: what was played in a recording, and the shelf of those that are kept. */
final class GrooveController extends AbstractController
{
    /** Of a file so much is looked at. */
    private const MOST_BARS = 16;
    private const MOST_NOTES = 5000;

    public function __construct(private readonly Beats $beats, private readonly SampleStore $samples, private readonly GrooveShelf $shelf)
    {
    }

    /** Where the hits of a recording fall on its beat grid and how loud they are; its slices in the beat in their place, where "slices" is said. */
    #[Route('/beats/{beat}/groove/{hash}', requirements: ['beat' => '\d{1,9}', 'hash' => '[0-9a-f]{64}'], methods: 'GET')]
    public function of(BeatRecord $record, string $hash, Request $request): Response
    {
        $sample = $this->samples->find($hash) ?? throw $this->createNotFoundException('This sample is not in the library.');
        $grid = $sample->grid() ?? throw new InvalidChange(\sprintf('%s has no beat grid: correct its tempo in Chop first.', $sample->name));
        if (!$grid->isEven() && !$sample->isCorrected('grid')) {
            // Lines that were heard follow the hits: against them, every beat would be on time.
            $grid = BeatGrid::even($grid->meanBpm($sample->seconds()), $grid->seconds(0));
        }
        $hits = array_map(static fn (array $hit): array => [$hit[0], $hit[3]], $sample->hits());
        if ($request->query->has('slices')) {
            $beat = $this->beats->content($record);
            $hits = self::slices($beat->slices[$hash]->markers ?? throw new InvalidChange(\sprintf('%s is not sliced in this beat.', $sample->name)), $hits, $sample);
        }
        $played = array_map(static fn (array $hit): array => [round(Ticks::PER_QUARTER * $grid->beat($hit[0] / $sample->rate), 2), $hit[1]], $hits);
        $beats = max(1, (int) round($grid->beat($sample->seconds()) - $grid->beat(0.0)));

        return new JsonResponse(['name' => mb_substr($sample->name, 0, 80), 'ticks' => $beats * Ticks::PER_QUARTER, 'played' => $played]);
    }

    /**
     * @param list<int>               $markers frames
     * @param list<array{int, float}> $hits
     *
     * @return list<array{int, float}> each as loud as the hit that is nearest, where one is near
     */
    private static function slices(array $markers, array $hits, Sample $sample): array
    {
        return array_map(static function (int $marker) use ($hits, $sample): array {
            $level = 0.5;
            foreach ($hits as [$frame, $loud]) {
                $level = abs($frame - $marker) < 0.02 * $sample->rate ? $loud : $level;
            }

            return [$marker, $level];
        }, $markers);
    }

    /** Where the notes of a MIDI file fall and how loud they are. */
    #[Route('/beats/{beat}/groove/midi', requirements: ['beat' => '\d{1,9}'], methods: 'POST', priority: 1)]
    public function ofMidi(Request $request): Response
    {
        $name = mb_substr(basename($request->query->getString('name', 'The file')), 0, 80);
        try {
            [$ticks, $played] = MidiFile::read($request->getContent(), $name)->played(self::MOST_BARS);
        } catch (UnreadableMidi $e) {
            throw new InvalidChange($e->getMessage());
        }
        if ([] === $played) {
            throw new InvalidChange(\sprintf('%s holds no notes that a groove could be taken from.', $name));
        }

        return new JsonResponse(['name' => preg_replace('/\.midi?$/i', '', $name) ?: $name, 'ticks' => $ticks, 'played' => \array_slice($played, 0, self::MOST_NOTES)]);
    }

    /** Keeps a groove of a beat for all. */
    #[Route('/beats/{beat}/grooves/{groove}/keep', requirements: ['beat' => '\d{1,9}', 'groove' => '[a-z0-9-]{1,40}'], methods: 'POST')]
    public function keep(BeatRecord $record, string $groove): Response
    {
        $found = $this->beats->content($record)->groove($groove) ?? throw new InvalidChange('This groove is not in the beat any more.');
        $this->shelf->keep($found);

        return new JsonResponse(['name' => $found->name]);
    }

    #[Route('/grooves/take', methods: 'POST')]
    public function take(Request $request): Response
    {
        $this->shelf->take((new Fields(ChangeController::fields($request)))->text('name'));

        return new JsonResponse([]);
    }
}
