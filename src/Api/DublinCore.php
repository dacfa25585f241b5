<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\Routing\Generator\UrlGeneratorInterface;

/**
 * Items as records of the Dublin Core (ISO 15836-1, in the XML of its unqualified elements, as the Open Archives Initiative wraps them):
 * title, who described it and when, tags as subjects, the summary, where the page stood, and the permanent addresses.
 */
final readonly class DublinCore
{
    private const ELEMENTS = 'http://purl.org/dc/elements/1.1/';
    private const RECORD = 'http://www.openarchives.org/OAI/2.0/oai_dc/';

    public function __construct(private UrlGeneratorInterface $urls)
    {
    }

    /**
     * @param iterable<array<string, mixed>> $items as programs are told them
     * @param array<string, string> $dossiers names by code
     *
     * @return \Generator<int, string>
     */
    public function pieces(iterable $items, array $dossiers): \Generator
    {
        $xml = new \XMLWriter();
        $xml->openMemory();
        $xml->setIndent(true);
        $xml->startDocument('1.0', 'UTF-8');
        $xml->startElement('records');
        $xml->writeAttribute('xmlns:dc', self::ELEMENTS);
        $xml->writeAttribute('xmlns:oai_dc', self::RECORD);
        $xml->text("\n");
        foreach ($items as $item) {
            $this->record($xml, $item, $dossiers);
            yield (string) $xml->flush();
        }
        $xml->endElement();
        $xml->endDocument();
        yield (string) $xml->flush();
    }

    /**
     * @param array<string, mixed> $item
     * @param array<string, string> $dossiers
     */
    private function record(\XMLWriter $xml, array $item, array $dossiers): void
    {
        $text = static fn (string $name): string => \is_string($item[$name] ?? null) ? $item[$name] : '';
        $subject = (array) ($item['subject'] ?? []);
        $part = static fn (string $name): string => \is_string($subject[$name] ?? null) ? $subject[$name] : '';
        $lies = array_map(static fn (mixed $code): string => \is_string($code) ? $dossiers[$code] ?? '' : '',
            (array) ($item['dossiers'] ?? []));
        $elements = [
            'title' => [$text('title')], 'creator' => [$text('createdBy')],
            'subject' => array_filter((array) ($item['tags'] ?? []), \is_string(...)), 'description' => [$text('summary'), $text('note')],
            'date' => [substr($text('createdAt'), 0, 10)],
            'type' => ['recording' === $text('kind') ? 'Sound' : 'Text', $text('kind')],
            'identifier' => [
                $this->address('item', $text('code')), $this->address('read', $part('capture')),
                '' === $part('sha256') ? '' : 'urn:sha256:'.$part('sha256'),
            ],
            'source' => [$part('url')], 'relation' => $lies,
        ];
        $xml->startElement('oai_dc:dc');
        foreach ($elements as $name => $values) {
            foreach ($values as $value) {
                if ('' !== $value) {
                    // What XML has no sign for is left out (XML 1.0, 2.2).
                    $xml->writeElement('dc:'.$name, (string) preg_replace(
                        '/[^\x{9}\x{A}\x{D}\x{20}-\x{D7FF}\x{E000}-\x{FFFD}\x{10000}-\x{10FFFF}]+/u', '', mb_scrub($value),
                    ));
                }
            }
        }
        $xml->endElement();
    }

    private function address(string $route, string $code): string
    {
        return '' === $code ? '' : $this->urls->generate($route, ['code' => $code], UrlGeneratorInterface::ABSOLUTE_URL);
    }
}
