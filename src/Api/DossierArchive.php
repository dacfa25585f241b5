<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Doctrine\DBAL\Connection;
use Ypomna\App\Desk\Attachments;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\ChangedSince;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Value\Attachment;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Viewer;

/**
 * A dossier with the attachments of its items, as a ZIP file: `dossier.json` is the file of the dossier, `attachments.json` says what
 * belongs to which item, and each file stands under its checksum. Taken back, nothing comes twice, and bytes that are not what their
 * name says are refused.
 */
final readonly class DossierArchive
{
    public const LARGEST = 2_147_483_648;
    private const MOST_FILES = 20_000;
    private const LARGEST_LIST = 67_108_864;

    public function __construct(
        private Connection $database,
        private DossierFile $files,
        private ItemRepository $items,
        private Attachments $attachments,
        private DataFolder $folder,
    ) {
    }

    /**
     * @return string path of a file that whoever asked removes
     *
     * @throws CannotChange
     */
    public function make(Viewer $viewer, Dossier $dossier): string
    {
        $lists = $this->attached($viewer, $dossier);
        $bytes = array_sum(array_map(static fn (array $one): int => $one[1]->bytes, $lists));
        if ($bytes > self::LARGEST) {
            throw new CannotChange('ui.attachments_are_too_large');
        }
        $work = $this->folder->newWork('dossier');
        if (!mkdir($work, 0o700, true)) {
            throw new \RuntimeException('A folder for work cannot be made.');
        }
        $json = fopen($work.'/dossier.json', 'w');
        if (false === $json) {
            throw new \RuntimeException('A file for work cannot be made.');
        }
        foreach ($this->files->pieces($viewer, $dossier) as $piece) {
            fwrite($json, $piece);
        }
        fclose($json);
        $zip = new \ZipArchive();
        if (true !== $zip->open($work.'/dossier.zip', \ZipArchive::CREATE)) {
            throw new \RuntimeException('A ZIP file cannot be made.');
        }
        $zip->addFile($work.'/dossier.json', 'dossier.json');
        $rows = [];
        foreach ($lists as [$item, $one]) {
            $rows[] = [
                'item' => $item, 'code' => $one->code, 'name' => $one->name, 'type' => $one->type, 'sha256' => $one->sha256,
                'marks' => $one->marks,
            ];
            $name = 'attachments/'.$one->sha256;
            if (false === $zip->locateName($name)) {
                $zip->addFile($this->attachments->path($one), $name);
                // What is sound or a picture is packed already.
                $zip->setCompressionName($name, $one->isSound() || $one->isPicture() ? \ZipArchive::CM_STORE : \ZipArchive::CM_DEFLATE);
            }
        }
        $zip->addFromString('attachments.json', json_encode($rows, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE));
        $zip->close();
        unlink($work.'/dossier.json');
        // Whoever sends it removes the file alone.
        rename($work.'/dossier.zip', $work.'.zip');
        rmdir($work);

        return $work.'.zip';
    }

    /**
     * @return array{dossiers: int, made: int, left: int, replaced: int, attached: int}
     *
     * @throws InvalidFields|ChangedSince
     */
    public function take(Actor $actor, Viewer $viewer, string $path, bool $replaces): array
    {
        $zip = new \ZipArchive();
        if (true !== $zip->open($path, \ZipArchive::RDONLY)) {
            throw InvalidFields::at('', 'This is no ZIP file that can be read.');
        }
        $json = $zip->getStream('dossier.json');
        $whole = tmpfile();
        if (false === $json || false === $whole) {
            throw InvalidFields::at('/dossier.json', 'It is missing.');
        }
        if ((int) stream_copy_to_stream($json, $whole, self::LARGEST) >= self::LARGEST) {
            throw InvalidFields::at('/dossier.json', 'It is larger than what is taken.');
        }
        $rows = $this->rows($zip);
        // All bytes are looked at before anything is taken in.
        $checked = [];
        $bytes = 0;
        foreach ($rows as $n => $row) {
            $bytes += $checked[$row['sha256']] ??= $this->check($zip, $row['sha256'], $n);
            if ($bytes > self::LARGEST) {
                throw InvalidFields::at('/attachments/'.$n, 'All attachments together are larger than what is taken.');
            }
        }

        return TransactionRetry::transaction($this->database, function () use ($actor, $viewer, $zip, $whole, $rows, $replaces): array {
            $taken = $this->files->take($actor, $viewer, $whole, false, $replaces);
            $attached = 0;
            foreach ($rows as $n => $row) {
                $attached += $this->attach($actor, $viewer, $zip, $row, $n, $taken['codes']);
            }

            return [
                'dossiers' => $taken['dossiers'], 'made' => $taken['made'], 'left' => $taken['left'], 'replaced' => $taken['replaced'],
                'attached' => $attached,
            ];
        });
    }

    /** @return int how many bytes it has */
    private function check(\ZipArchive $zip, string $sha256, int $n): int
    {
        $stream = $zip->getStream('attachments/'.$sha256);
        $size = $zip->statName('attachments/'.$sha256)['size'] ?? 0;
        if (false === $stream) {
            throw InvalidFields::at('/attachments/'.$n.'/sha256', 'Its bytes are missing.');
        }
        if ($size > Attachments::LARGEST) {
            throw InvalidFields::at('/attachments/'.$n.'/sha256', 'It is larger than what is taken.');
        }
        $hash = hash_init('sha256');
        // No more than it says of itself: a small file can hold very much.
        hash_update_stream($hash, $stream, $size + 1);
        if (hash_final($hash) !== $sha256) {
            throw InvalidFields::at('/attachments/'.$n.'/sha256', 'Its bytes are not what its checksum says.');
        }

        return $size;
    }

    /**
     * @param array<string, string> $row
     * @param array<string, string> $codes
     */
    private function attach(Actor $actor, Viewer $viewer, \ZipArchive $zip, array $row, int $n, array $codes): int
    {
        $item = $this->items->byCode($viewer, $codes[$row['item']] ?? $row['item']);
        if (null === $item || !$this->items->mayChange($viewer, $item)) {
            throw InvalidFields::at('/attachments/'.$n.'/item', 'There is no such item to which it could belong.');
        }
        foreach ($this->attachments->of($item) as $one) {
            if ($one->sha256 === $row['sha256'] && $one->name === $row['name']) {
                return 0;
            }
        }
        $stream = $zip->getStream('attachments/'.$row['sha256']);
        $path = tempnam(sys_get_temp_dir(), 'attachment');
        $file = false === $path ? false : fopen($path, 'w');
        if (false === $stream || false === $path || false === $file) {
            throw InvalidFields::at('/attachments/'.$n.'/sha256', 'Its bytes are missing.');
        }
        stream_copy_to_stream($stream, $file, Attachments::LARGEST);
        fclose($file);
        try {
            $made = $this->attachments->add($actor, $item, $path, $row['name'], $row['type']);
            /** @var list<array{at: float, text: string}> $marks */
            $marks = json_decode($row['marks'], true, 4, \JSON_THROW_ON_ERROR);
            $this->attachments->mark($made, $marks);
        } catch (CannotChange) {
            throw InvalidFields::at('/attachments/'.$n, 'The item has too many attachments.');
        }

        return 1;
    }

    /** @return list<array{item: string, name: string, type: string, sha256: string, marks: string}> */
    private function rows(\ZipArchive $zip): array
    {
        $list = json_decode((string) $zip->getFromName('attachments.json', self::LARGEST_LIST), true, 8);
        $rows = [];
        foreach (\is_array($list) ? \array_slice(array_values($list), 0, self::MOST_FILES) : [] as $n => $row) {
            $text = static fn (string $name): string => \is_array($row) && \is_string($row[$name] ?? null) ? $row[$name] : '';
            if (1 !== preg_match('/^[0-9a-f]{64}$/D', $text('sha256'))) {
                throw InvalidFields::at('/attachments/'.$n.'/sha256', 'A checksum in hex is wanted.');
            }
            $marks = [];
            foreach (\is_array($row) && \is_array($row['marks'] ?? null) ? $row['marks'] : [] as $mark) {
                if (\is_array($mark) && is_numeric($mark['at'] ?? null)) {
                    $marks[] = ['at' => (float) $mark['at'], 'text' => \is_string($mark['text'] ?? null) ? $mark['text'] : ''];
                }
            }
            $rows[] = [
                'item' => $text('item'), 'name' => $text('name'), 'type' => $text('type'), 'sha256' => $text('sha256'),
                'marks' => json_encode($marks, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE),
            ];
        }

        return $rows;
    }

    /** @return list<array{string, Attachment}> with the code of the item */
    private function attached(Viewer $viewer, Dossier $dossier): array
    {
        $attached = [];
        foreach ($this->items->pages($viewer, new ItemQuery(within: $dossier->code, order: ItemOrder::Oldest, most: 200)) as $page) {
            $codes = [];
            foreach ($page as $item) {
                $codes[$item->id()] = $item->code;
            }
            foreach ($this->attachments->ofAll(array_map(static fn (Item $item): int => $item->id(), $page)) as $one) {
                $attached[] = [$codes[$one->item] ?? '', $one];
            }
        }

        return $attached;
    }
}
