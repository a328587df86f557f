import "../styles/antd.modal.generated.css";
import { Modal } from "antd";
import type { ReactNode } from "react";

/** Something of its own above the page, for as long as it is rendered; what ends it stands among what it holds. */
export function Dialog({
  title,
  width,
  closable = true,
  onClose,
  children,
}: {
  title: string;
  width: number;
  closable?: boolean;
  onClose(): void;
  children: ReactNode;
}) {
  return (
    <Modal open title={title} width={width} closable={closable} footer={null} onCancel={onClose}>
      {children}
    </Modal>
  );
}
