<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Desk\Value\AidEntry;
use Ypomna\App\Desk\Value\FindingAid;

/** A finding aid in the form of the archivists: Encoded Archival Description (EAD3, of the Society of American Archivists). */
final readonly class ArchivalDescription
{
    private const NAMESPACE = 'http://ead3.archivists.org/schema/';

    public function __construct(private UrlGeneratorInterface $urls)
    {
    }

    /** @param list<AidEntry> $entries */
    public function of(FindingAid $aid, array $entries): string
    {
        $xml = new \XMLWriter();
        $xml->openMemory();
        $xml->setIndent(true);
        $xml->startDocument('1.0', 'UTF-8');
        $xml->startElementNs(null, 'ead', self::NAMESPACE);
        $this->control($xml, $aid);
        $xml->startElement('archdesc');
        $xml->writeAttribute('level', 'collection');
        $xml->startElement('did');
        $this->text($xml, 'unittitle', $aid->title);
        $this->text($xml, 'unitid', $this->address('finding_aid', $aid->code));
        $xml->startElement('origination');
        $xml->startElement('name');
        $this->text($xml, 'part', $aid->person);
        $xml->endElement();
        $xml->endElement();
        $xml->endElement();
        if ('' !== $aid->note) {
            $xml->startElement('scopecontent');
            $this->text($xml, 'p', $aid->note);
            $xml->endElement();
        }
        $xml->startElement('dsc');
        $last = null;
        foreach ($entries as $entry) {
            if ($last !== $entry->dossier && '' !== $entry->dossier) {
                if (null !== $last) {
                    $xml->endElement();
                }
                $xml->startElement('c');
                $xml->writeAttribute('level', 'file');
                $xml->startElement('did');
                $this->text($xml, 'unittitle', $entry->dossier);
                $xml->endElement();
                $last = $entry->dossier;
            }
            $this->entry($xml, $entry);
        }
        if (null !== $last) {
            $xml->endElement();
        }
        $xml->endDocument();

        return $xml->outputMemory();
    }

    private function control(\XMLWriter $xml, FindingAid $aid): void
    {
        $xml->startElement('control');
        $this->text($xml, 'recordid', $aid->code);
        $xml->startElement('filedesc');
        $xml->startElement('titlestmt');
        $this->text($xml, 'titleproper', $aid->title);
        $xml->endElement();
        $xml->endElement();
        $xml->startElement('maintenancestatus');
        $xml->writeAttribute('value', 'new');
        $xml->endElement();
        $xml->startElement('maintenanceagency');
        $this->text($xml, 'agencyname', 'Ypomna');
        $xml->endElement();
        $xml->startElement('maintenancehistory');
        $xml->startElement('maintenanceevent');
        foreach (['eventtype' => 'created', 'agenttype' => 'human'] as $name => $value) {
            if ('agenttype' === $name) {
                $xml->startElement('eventdatetime');
                $xml->writeAttribute('standarddatetime', $aid->madeAt->format('Y-m-d\TH:i:s\Z'));
                $xml->endElement();
            }
            $xml->startElement($name);
            $xml->writeAttribute('value', $value);
            $xml->endElement();
        }
        $this->text($xml, 'agent', $aid->person);
        $xml->endElement();
        $xml->endElement();
        $xml->endElement();
    }

    private function entry(\XMLWriter $xml, AidEntry $entry): void
    {
        $xml->startElement('c');
        $xml->writeAttribute('level', 'item');
        $xml->startElement('did');
        $this->text($xml, 'unittitle', '' === $entry->title ? $entry->code : $entry->title);
        $this->text($xml, 'unitid', $this->address('item', $entry->code));
        if (null !== $entry->capturedAt) {
            $this->text($xml, 'unitdate', $entry->capturedAt);
        }
        foreach (array_filter(
            [$entry->url ?? '', null === $entry->capture ? '' : $this->address('read', $entry->capture)],
            static fn (string $one): bool => '' !== $one,
        ) as $address) {
            $xml->startElement('dao');
            $xml->writeAttribute('daotype', 'borndigital');
            $xml->writeAttribute('href', self::plain($address));
            $xml->endElement();
        }
        $xml->endElement();
        if ('' !== $entry->summary) {
            $xml->startElement('scopecontent');
            $this->text($xml, 'p', $entry->summary);
            $xml->endElement();
        }
        if ([] !== $entry->fields) {
            $xml->startElement('odd');
            foreach ($entry->fields as $name => $value) {
                $this->text($xml, 'p', $name.': '.$value);
            }
            $xml->endElement();
        }
        if ([] !== $entry->tags) {
            $xml->startElement('controlaccess');
            foreach ($entry->tags as $tag) {
                $xml->startElement('subject');
                $this->text($xml, 'part', $tag);
                $xml->endElement();
            }
            $xml->endElement();
        }
        $xml->endElement();
    }

    private function address(string $route, string $code): string
    {
        return $this->urls->generate($route, ['code' => $code], UrlGeneratorInterface::ABSOLUTE_URL);
    }

    private function text(\XMLWriter $xml, string $name, string $text): void
    {
        $xml->writeElement($name, self::plain($text));
    }

    /** Without what XML has no sign for (XML 1.0, 2.2). */
    private static function plain(string $text): string
    {
        return (string) preg_replace(
            '/[^\x{9}\x{A}\x{D}\x{20}-\x{D7FF}\x{E000}-\x{FFFD}\x{10000}-\x{10FFFF}]+/u', '', mb_scrub($text),
        );
    }
}
