<?php

namespace Pestle\App\Controller;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\DeliveryNames;
use Pestle\Core\Exchange\LeadSheet;
use Pestle\Core\Exchange\Midi\MidiFile;
use Pestle\Core\Exchange\Midi\MidiLanding;
use Pestle\Core\Exchange\Midi\MidiWriter;
use Pestle\Core\Exchange\Midi\UnreadableMidi;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;

/** What a beat's notes are, for others: MIDI files, in and out, and a lead sheet. */
#[Route('/beats/{beat}', requirements: ['beat' => '\d{1,9}'])]
final class MidiController extends AbstractController
{
    public function __construct(private readonly Beats $beats)
    {
    }

    /** The change that would bring a file in, and what it could not carry; nothing is changed yet. */
    #[Route('/midi', methods: 'POST')]
    public function in(BeatRecord $record, Request $request): Response
    {
        $name = mb_substr(basename($request->query->getString('name', 'The file')), 0, 100);
        try {
            [$change, $told] = MidiLanding::of(MidiFile::read($request->getContent(), $name), $this->beats->content($record), $request->query->has('tempo'));
        } catch (UnreadableMidi $e) {
            throw new InvalidChange($e->getMessage());
        }
        if (null === $change) {
            throw new InvalidChange(\sprintf('Nothing of %s finds a place in this beat: %s.', $name, implode('; ', $told)));
        }

        return new JsonResponse(['change' => $change, 'told' => $told]);
    }

    #[Route('/midi/{what}.mid', requirements: ['what' => 'song|[sp]\d{1,4}'], methods: 'GET')]
    public function out(BeatRecord $record, string $what, Request $request): Response
    {
        $beat = $this->beats->content($record);
        $title = 'song' === $what ? $beat->name : $beat->name.' - '.(($beat->sections[$what] ?? null)->name ?? $beat->pattern($what)->name);
        $part = $request->query->has('part') ? $request->query->getString('part') : null;
        $title .= null === $part ? '' : ' - '.$beat->part($part)->name;
        $name = \sprintf('%s - %s BPM.mid', DeliveryNames::safe(str_replace(['/', '\\', '%'], '-', $title)), rtrim(rtrim(number_format($beat->tempo->bpm, 2, '.', ''), '0'), '.'));

        return new Response(MidiWriter::of($beat, 'song' === $what ? null : $what, 'written' === $request->query->get('as'), $part), 200, [
            'Content-Type' => 'audio/midi',
            'Content-Disposition' => HeaderUtils::makeDisposition(HeaderUtils::DISPOSITION_ATTACHMENT, $name, (string) preg_replace('/[^\x20-\x7e]/', '_', $name)),
            'Cache-Control' => 'no-store',
        ]);
    }

    /** Sections, bars, chords and who plays, as text. */
    #[Route('/lead-sheet.txt', methods: 'GET')]
    public function sheet(BeatRecord $record): Response
    {
        $name = DeliveryNames::safe(str_replace(['/', '\\', '%'], '-', $record->name)).' - lead sheet.txt';

        return new Response(LeadSheet::of($this->beats->content($record)), 200, [
            'Content-Type' => 'text/plain; charset=utf-8',
            'Content-Disposition' => HeaderUtils::makeDisposition(HeaderUtils::DISPOSITION_ATTACHMENT, $name, (string) preg_replace('/[^\x20-\x7e]/', '_', $name)),
            'Cache-Control' => 'no-store',
        ]);
    }
}
