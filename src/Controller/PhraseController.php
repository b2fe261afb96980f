<?php

namespace Pestle\App\Controller;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Gather\EditedSample;
use Pestle\App\Gather\NoteFinder;
use Pestle\App\Page\ChopPage;
use Pestle\App\Storage\Beats;
use Pestle\Core\Analysis\HeardNote;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\FromRecording;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Phrase;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;

/** A recording as notes: what is heard in it, what is taken of that, and the change that makes a pattern of it. */
#[Route('/beats/{beat}/phrase/{hash}', requirements: ['beat' => '\d{1,9}', 'hash' => '[0-9a-f]{64}'], methods: 'GET')]
final class PhraseController extends AbstractController
{
    public function __construct(private readonly Beats $beats, private readonly NoteFinder $finder)
    {
    }

    #[Route('')]
    public function notes(BeatRecord $record, EditedSample $sample, Request $request): JsonResponse
    {
        $beat = $this->beats->content($record);
        $fields = new Fields($request->query->all());
        $part = $beat->part($fields->id('part'));
        $section = $beat->section($fields->id('section'));
        $at = self::quarterAt($sample, $beat);
        $seconds = $sample->frames() / $sample->sample->rate;
        $made = new FromRecording($beat, $part, $at);
        if ($part->isKit()) {
            $hits = $made->hits($sample->sample->hits(), $sample->sample->rate);

            return new JsonResponse(['notes' => [], 'kept' => \count($hits), 'change' => $made->change($section->id, $sample->sample->name, $seconds, ['hits' => array_map(static fn (Hit $h): array => $h->toArray(), $hits)])]);
        }
        $heard = $this->finder->find($sample, $fields->whole('voices', 0, 4));
        if (null === $heard) {
            return new JsonResponse(['error' => 'Its notes are being looked for …', 'working' => null], 202, ['Retry-After' => '1', 'Cache-Control' => 'no-store']);
        }
        $keep = $fields->text('keep');
        $phrase = new Phrase(
            $fields->number('sure', 0.0, 100.0) / 100.0,
            \in_array($keep, Phrase::KEEP, true) ? $keep : throw InvalidChange::field('keep', 'must be one of: '.implode(', ', Phrase::KEEP).'.'),
            $fields->whole('low', 0, Note::MAX_PITCH),
            $fields->whole('high', 0, Note::MAX_PITCH),
            $fields->has('scale') && $fields->flag('scale') ? $beat->key?->scale() ?? [] : [],
            $fields->whole('grid', 0, 3840),
            $fields->whole('octaves', -4, 4),
        );
        $rate = $sample->sample->rate;
        $kept = $phrase->kept($heard);
        $row = static fn (HeardNote $n): array => [(int) round($n->start * $rate), (int) round($n->end * $rate), $n->pitch, $n->velocity, $n->confidence, (int) \in_array($n, $kept, true)];

        return new JsonResponse([
            'notes' => array_map($row, $heard),
            'kept' => \count($kept),
            'change' => $made->change($section->id, $sample->sample->name, $seconds, ['notes' => array_map(static fn (Note $n): array => $n->toArray(), $phrase->notes($heard, $at))]),
        ], 200, ['Cache-Control' => 'no-store']);
    }

    /** @return \Closure(float): float which quarter is at a second: by the recording's own grid, or else by the beat's tempo from its start on */
    private static function quarterAt(EditedSample $sample, Beat $beat): \Closure
    {
        $grid = $sample->sample->grid();
        if (null !== $grid && [] === $sample->edits->list) {
            $each = $sample->sample->is()->quartersABeat($beat->meter);

            return static fn (float $seconds): float => $each * $grid->beat($seconds);
        }
        $bpm = (new ChopPage($sample->sample, $beat))->counted()->bpm ?? $beat->tempo->bpm;

        return static fn (float $seconds): float => $seconds * $bpm / 60.0;
    }
}
