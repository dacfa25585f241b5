<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** What is to become of items; what is not said stays as it is. */
final readonly class ItemChange
{
    /**
     * @param \DateTimeImmutable|false|null $due a day; null for none; false: it stays as it is
     * @param list<string>|null $tags names, in place of those it has
     * @param list<string> $addTags
     * @param list<string> $removeTags
     * @param list<string>|null $dossiers codes, in place of those that whoever asks sees
     * @param list<string> $addDossiers
     * @param list<string> $removeDossiers
     * @param string|false|null $parent code of the item under which it is to be; null for none
     * @param array<string, mixed> $fields by name; null takes one away
     * @param bool $noFields whether all fields are taken away
     * @param ItemSubject|null $subject what it is about from now on
     */
    public function __construct(
        public ?string $title = null,
        public ?string $summary = null,
        public ?string $note = null,
        public \DateTimeImmutable|false|null $due = false,
        public DueFor|false|null $dueFor = false,
        public ?bool $important = null,
        public ?bool $confidential = null,
        public ?bool $sorted = null,
        public ?array $tags = null,
        public array $addTags = [],
        public array $removeTags = [],
        public ?array $dossiers = null,
        public array $addDossiers = [],
        public array $removeDossiers = [],
        public string|false|null $parent = false,
        public array $fields = [],
        public bool $noFields = false,
        public ?ItemSubject $subject = null,
    ) {
    }

    /** @param array<string, mixed> $fields */
    public function withFields(array $fields): self
    {
        return new self(
            $this->title, $this->summary, $this->note, $this->due, $this->dueFor, $this->important, $this->confidential, $this->sorted,
            $this->tags, $this->addTags, $this->removeTags, $this->dossiers, $this->addDossiers, $this->removeDossiers, $this->parent,
            $fields, subject: $this->subject,
        );
    }
}
