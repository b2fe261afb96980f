<?php

namespace Pestle\App\Controller;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Entity\ShelvedKit;
use Pestle\App\Gather\Tags;
use Pestle\App\Shelf\KitShelf;
use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\KitSheet;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\HttpKernelInterface;
use Symfony\Component\Routing\Attribute\Route;

/**
 * Every change of a beat. A page gets itself back as it is after the change, a script the new head.
 * X-Pestle-Head says which head the maker saw.
 */
#[Route('/beats/{beat}', requirements: ['beat' => '\d{1,9}'], methods: 'POST')]
final class ChangeController extends AbstractController
{
    public function __construct(private readonly Beats $beats, private readonly HttpKernelInterface $kernel, private readonly KitShelf $shelf)
    {
    }

    #[Route('/changes')]
    public function change(BeatRecord $record, Request $request): Response
    {
        $fields = self::fields($request);
        $id = $fields['changeId'] ?? null;
        if (null !== $id && (!\is_string($id) || !preg_match('/^[A-Za-z0-9-]{8,60}$/', $id))) {
            throw InvalidChange::field('changeId', 'must be 8 to 60 letters, digits or hyphens.');
        }
        $this->beats->change($record, $this->seen($record, $request), $id ?? bin2hex(random_bytes(12)), Changes::read($this->shelf->filled($fields)));

        return $this->answer($record, $request);
    }

    /** Saves the kit of a part on the shelf, as a new one or as the next version of its origin; the part remembers where it came from. */
    #[Route('/shelf')]
    public function shelve(BeatRecord $record, Request $request): Response
    {
        $fields = new Fields(self::fields($request));
        $beat = $this->beats->content($record);
        $part = $beat->part($fields->id('part'));
        $kit = $fields->has('kit') ? $this->shelf->find($fields->whole('kit', 1, 999_999_999)) : null;
        $kit ??= new ShelvedKit($fields->text('name'));
        $kit->name = $fields->text('name');
        $kit->note = $fields->has('note') ? $fields->text('note', 400) : '';
        $kit->tags = Tags::read($fields->has('tags') ? $fields->text('tags', 400) : '');
        $version = $this->shelf->save($kit, KitSheet::of($beat, $part->id));
        $this->beats->change($record, $record->head, bin2hex(random_bytes(12)), Changes::read(['type' => 'set-part', 'part' => $part->id, 'shelf' => KitShelf::mark($version)]));

        return $this->answer($record, $request);
    }

    #[Route('/undo')]
    public function undo(BeatRecord $record, Request $request): Response
    {
        $this->beats->undo($record, $this->seen($record, $request));

        return $this->answer($record, $request);
    }

    #[Route('/redo')]
    public function redo(BeatRecord $record, Request $request): Response
    {
        $this->beats->redo($record, $this->seen($record, $request));

        return $this->answer($record, $request);
    }

    /** @return array<array-key, mixed> */
    public static function fields(Request $request): array
    {
        if ('json' !== $request->getContentTypeFormat()) {
            return $request->request->all();
        }
        $fields = json_decode($request->getContent(), true, 32);

        return \is_array($fields) ? $fields : throw new InvalidChange('The JSON of this change cannot be read.');
    }

    private function seen(BeatRecord $record, Request $request): int
    {
        $head = $request->headers->get('X-Pestle-Head');
        if ('newest' === $head) {
            return $record->head;
        }
        if (null === $head || !preg_match('/^\d{1,12}$/', $head)) {
            throw new InvalidChange('X-Pestle-Head must say which head this change was made on.');
        }

        return (int) $head;
    }

    private function answer(BeatRecord $record, Request $request): Response
    {
        $history = $this->beats->history($record);
        if (!$request->headers->has('HX-Request')) {
            return new JsonResponse(['head' => $record->head, 'undo' => $history->undo, 'redo' => $history->redo]);
        }
        $at = parse_url((string) $request->headers->get('HX-Current-URL'));
        $path = \is_array($at) ? ($at['path'] ?? '') : '';
        if (!preg_match('~^/beats/'.$record->id.'/[a-z]+$~', $path)) {
            $path = '/beats/'.$record->id.'/pattern';
        }
        $page = Request::create($path.'?'.($at['query'] ?? ''), 'GET', [], [], [], $request->server->all());

        return $this->kernel->handle($page, HttpKernelInterface::SUB_REQUEST);
    }
}
